import { useRef, useState } from "react";
import type { Derivation, DerivedOutput, ExerciseForm } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { StatementField, TruthTable } from "@/features/exercise";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import type { Workings } from "../hooks/useWorkings";
import { mapPlan } from "../model/map";
import { Behaviour } from "./Behaviour";
import { Clock } from "./Clock";
import { Costs, Hazards } from "./Costs";
import { Digit } from "./Digit";
import { FilesPart } from "./FilesPart";
import { Forms, GroupList } from "./Forms";
import { KarnaughMap } from "./KarnaughMap";
import { MarksPart } from "./MarksPart";
import { ParameterPart } from "./ParameterPart";
import { Part } from "./Part";
import { RulesPart } from "./RulesPart";
import { Shared } from "./Shared";
import { Signals } from "./Signals";
import { Steps } from "./Steps";
import { TakeAway } from "./TakeAway";
import { WiringPart } from "./WiringPart";

interface Props {
  course: number;
  exercise: number;
  workings: Workings;
  cursor: RowCursor;
  notation: string;
  shared: boolean;
  setShared: (shared: boolean) => void;
  readOnly: boolean;
}

/** The worksheet: signals, behaviour, table and map, forms, hazards, costs, steps. */
export function WorkingsView({
  course,
  exercise,
  workings,
  cursor,
  notation,
  shared,
  setShared,
  readOnly,
}: Props) {
  const { draft, view, change, edit } = workings;
  const [at, setAt] = useState(0);
  const bits = view.columns.map((c) => c.name);
  const index = at < bits.length ? at : 0;
  const output = view.derivation?.outputs[index];
  const outputBits = view.ports.filter((p) => p.dir === "out").flatMap((p) => p.bits);
  const parts = {
    draft,
    problem: view.problem,
    readOnly,
    set: (next: Partial<ExerciseForm["parts"]>) => change({ ...draft, parts: { ...draft.parts, ...next } }),
  };
  return (
    <div className="space-y-8">
      <Part title="Statement">
        <StatementField
          text={draft.statement}
          readOnly={readOnly}
          fault={view.problem?.field === "statement" ? view.problem.message : null}
          onChange={(statement) => change({ ...draft, statement })}
        />
      </Part>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <Part title="Signals">
          <Signals
            draft={draft}
            ports={view.ports}
            problem={view.problem}
            readOnly={readOnly}
            change={change}
            edit={edit}
          />
          <h3 className="mb-1 mt-5 font-bold">Clock and reset</h3>
          <Clock {...parts} />
          <ParameterPart {...parts} />
        </Part>
        <Part title="Behaviour">
          <Behaviour
            course={course}
            exercise={exercise}
            draft={draft}
            bits={bits}
            problem={view.problem}
            readOnly={readOnly}
            change={change}
            edit={edit}
          />
          {view.warnings.map((w) => (
            <p key={w} className="mt-2 border-l-4 border-amber bg-tint px-3 py-1.5">
              {w}
            </p>
          ))}
          <h3 className="mb-1 mt-5 font-bold">Files</h3>
          <FilesPart {...parts} />
        </Part>
      </div>
      {view.too_large !== null && (
        <p className="border-l-4 border-amber bg-tint px-4 py-3">{view.too_large}</p>
      )}
      {view.derivation !== null && output !== undefined && (
        <Derived
          workings={workings}
          derivation={view.derivation}
          output={output}
          index={index}
          setAt={setAt}
          cursor={cursor}
          notation={notation}
          shared={shared}
          setShared={setShared}
          readOnly={readOnly}
        />
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <Part title="Rules">
          <RulesPart {...parts} bits={outputBits} sentences={view.rules} />
        </Part>
        <div className="space-y-8">
          <Part title="Marks">
            <MarksPart {...parts} bits={outputBits} />
          </Part>
          <Part title="Wiring plan">
            <WiringPart {...parts} ports={view.ports} labels={view.labels} />
          </Part>
        </div>
      </div>
    </div>
  );
}

/** Kinds of behaviour that a row can be changed of. */
const ROW_KINDS = ["minterms", "maxterms", "table", "expressions", "code"];

interface DerivedProps extends Omit<Props, "course" | "exercise"> {
  derivation: Derivation;
  output: DerivedOutput;
  index: number;
  setAt: (index: number) => void;
}

function Derived(props: DerivedProps) {
  const { workings, derivation, output, index, setAt, cursor, notation, shared, setShared, readOnly } = props;
  const { view, edit } = workings;
  const [sop, setSop] = useState(0);
  const [pos, setPos] = useState(0);
  const [drawn, setDrawn] = useState<"sop" | "pos">("sop");
  const map = useRef<SVGSVGElement>(null);
  const inputs = derivation.inputs;
  const plan = mapPlan(inputs.length);
  const sopAt = sop < output.sop.covers.length ? sop : 0;
  const posAt = pos < output.pos.covers.length ? pos : 0;
  const groups = (drawn === "sop" ? output.sop.covers[sopAt] : output.pos.covers[posAt])?.cubes ?? [];
  const column = view.columns[index];
  // What a design does is not changed row by row.
  const isFixed = readOnly || !ROW_KINDS.includes(workings.draft.behaviour.kind);
  const set = isFixed
    ? undefined
    : (row: number, value: string) => edit({ kind: "cell", output: output.name, row, value });
  return (
    <>
      {view.columns.length > 1 && (
        <div className="sticky top-0 z-10 flex items-center gap-3 border-b border-rule bg-paper py-2">
          <span className="font-medium">Output</span>
          <Choice
            label="Output"
            value={String(index)}
            options={view.columns.map((c, i) => ({ value: String(i), label: c.name }))}
            onChange={(value) => setAt(Number(value))}
          />
        </div>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <Part
          title="Truth table"
          note={`${view.columns[0]?.values.length ?? 0} rows in binary order, ${inputs[0] ?? ""} most significant`}
        >
          <TruthTable
            inputs={inputs}
            outputs={view.columns}
            cursor={cursor}
            label="Truth table"
            maxHeight="34rem"
            edit={
              set === undefined
                ? { output: index, setOutput: setAt }
                : { output: index, setOutput: setAt, set }
            }
          />
          {set !== undefined && (
            <CellKeys name={output.name} row={cursor.row} set={(value) => set(cursor.row, value)} />
          )}
        </Part>
        <Part title={`Karnaugh map of ${output.name}`} note="Neighbours differ in one input (Gray order)">
          {plan === null || column === undefined ? (
            <p className="text-ink-soft">
              Maps are drawn for up to six inputs; {inputs.length} are too many to look at.
            </p>
          ) : (
            <>
              <KarnaughMap
                ref={map}
                plan={plan}
                inputs={inputs}
                values={column.values}
                groups={groups}
                cursor={cursor}
                label={`Karnaugh map of ${output.name}`}
                onSet={set}
              />
              <div className="flex flex-wrap items-start justify-between gap-3">
                <GroupList cubes={groups} />
                <Choice
                  label="Groups in the map"
                  value={drawn}
                  options={[
                    { value: "sop", label: "groups of ones" },
                    { value: "pos", label: "groups of zeros" },
                  ]}
                  onChange={setDrawn}
                />
              </div>
            </>
          )}
          {view.digit.length === 7 && (
            <div className="mt-4 flex items-end gap-3">
              <Digit
                label={`The digit of row ${cursor.row}`}
                segments={view.digit.map((o) =>
                  lit(view.columns[o]?.values[cursor.row], view.digit_active_low),
                )}
              />
              <p className="text-sm text-ink-soft">
                What row {cursor.row} shows{view.digit_active_low && ", lit at 0"}
              </p>
            </div>
          )}
        </Part>
      </div>
      <Part title={`Forms of ${output.name}`}>
        <Forms
          output={output}
          inputs={inputs}
          notation={notation}
          row={cursor.row}
          sopAt={sopAt}
          onSop={setSop}
          posAt={posAt}
          onPos={setPos}
          drawn={drawn}
        />
      </Part>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <Part title="Costs">
          <Costs costs={output.costs} />
        </Part>
        <Part title="Hazards">
          <Hazards sop={output.sop_hazards} pos={output.pos_hazards} />
        </Part>
      </div>
      {output.sop_steps !== null && (
        <Part title="Steps to the sum of products">
          <Steps steps={output.sop_steps} row={cursor.row} isSum />
        </Part>
      )}
      {output.pos_steps !== null && (
        <details>
          <summary className="cursor-pointer text-lg font-bold">Steps to the product of sums</summary>
          <div className="mt-2">
            <Steps steps={output.pos_steps} row={cursor.row} isSum={false} />
          </div>
        </details>
      )}
      {view.columns.length > 1 && (
        <Part title="All outputs together">
          <Shared derivation={derivation} row={cursor.row} shared={shared} setShared={setShared} />
        </Part>
      )}
      <Part title="Take elsewhere">
        <TakeAway
          exports={view.exports}
          columns={view.columns}
          inputs={inputs}
          map={map}
          name={output.name}
        />
      </Part>
    </>
  );
}

function lit(value: string | undefined, activeLow: boolean): "1" | "0" | "-" {
  if (value === "-" || value === undefined) return "-";
  return (value === "1") !== activeLow ? "1" : "0";
}

function CellKeys({ name, row, set }: { name: string; row: number; set: (value: string) => void }) {
  return (
    <p className="mt-2 flex flex-wrap items-center gap-2 text-sm text-ink-soft">
      Set {name} on row {row} (or type it):
      {[
        ["0", "0"],
        ["1", "1"],
        ["-", "don't-care"],
      ].map(([value, label]) => (
        <Button key={label} className="px-2! py-0.5!" onClick={() => set(value ?? "-")}>
          {label}
        </Button>
      ))}
    </p>
  );
}
