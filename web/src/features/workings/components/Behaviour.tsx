import { CODE_NAMES } from "@/api/lists";
import type { BehaviourForm, ExerciseForm, FieldProblem, FormEdit, NamedText } from "@/api/schema";
import { Choice } from "@/kit/Choice";
import { CONTROL, Field } from "@/kit/Field";
import { FieldFault } from "./FieldFault";
import { FromHandIn } from "./FromHandIn";
import { Rate, Sequence } from "./OverTime";
import { PasteButton } from "./PasteButton";
import { States } from "./States";

interface Props {
  course: number;
  exercise: number;
  draft: ExerciseForm;
  /** Names of the output bits as understood before. */
  bits: string[];
  problem: FieldProblem | null;
  readOnly: boolean;
  change: (draft: ExerciseForm) => void;
  edit: (edit: FormEdit) => void;
}

const KINDS = [
  { value: "expressions", label: "Expressions" },
  { value: "minterms", label: "Minterms" },
  { value: "maxterms", label: "Maxterms" },
  { value: "table", label: "Table" },
  { value: "code", label: "Code" },
];

/** Kinds that are judged over time; they need a clock. */
const CLOCKED = [
  { value: "rate", label: "Rate" },
  { value: "sequence", label: "Sequence" },
  { value: "states", label: "States" },
];

/** A design that does what is expected; with a clock or without. */
const REFERENCE = { value: "reference", label: "Reference" };

/** The text of a list's entry; empty when there is none. */
function textOf(list: NamedText[], name: string): string {
  return list.find((e) => e.name === name)?.text ?? "";
}

function withText(list: NamedText[], name: string, text: string): NamedText[] {
  return list.some((e) => e.name === name)
    ? list.map((e) => (e.name === name ? { name, text } : e))
    : [...list, { name, text }];
}

/** How the outputs follow from the inputs, in the notation at hand. */
export function Behaviour({ course, exercise, draft, bits, problem, readOnly, change, edit }: Props) {
  const behaviour = draft.behaviour;
  const set = (part: Partial<BehaviourForm>) => change({ ...draft, behaviour: { ...behaviour, ...part } });
  const kinds = [...KINDS, ...CLOCKED, REFERENCE];
  const known = kinds.some((k) => k.value === behaviour.kind);
  const isRows = KINDS.some((k) => k.value === behaviour.kind);
  const setParts = (parts: Partial<ExerciseForm["parts"]>) =>
    change({ ...draft, parts: { ...draft.parts, ...parts } });
  const choose = (kind: string) => {
    // What the table says is carried over where the new kind can say it.
    if (["minterms", "maxterms", "table"].includes(kind) && problem === null && isRows)
      edit({ kind: "convert", to: kind });
    else set({ kind });
  };
  const outputs = draft.ports.filter((p) => p.dir === "out");
  const bitNames = bits.length > 0 ? bits : outputs.filter((p) => p.range === "").map((p) => p.name);
  const expressionNames = [
    ...outputs.map((p) => p.name),
    ...behaviour.expressions.map((e) => e.name).filter((n) => !outputs.some((p) => p.name === n)),
  ];
  return (
    <fieldset disabled={readOnly} className="space-y-3">
      <legend className="sr-only">Behaviour</legend>
      <div className="flex flex-wrap items-center gap-3">
        <Choice
          label="Kind of behaviour"
          value={behaviour.kind}
          options={KINDS}
          onChange={choose}
          disabled={readOnly}
        />
        <Choice
          label="Kind of behaviour over time, or by a design"
          value={behaviour.kind}
          options={[...CLOCKED, REFERENCE]}
          onChange={choose}
          disabled={readOnly}
        />
        {!readOnly && (isRows || !known) && <PasteButton edit={edit} problem={problem} />}
      </div>
      {!known && (
        <p className="text-ink-soft">
          This behaviour ({behaviour.kind || "none yet"}) is written in the exercise file; choosing a kind
          here replaces it.
        </p>
      )}
      {behaviour.kind === "expressions" &&
        expressionNames.map((name) => (
          <Line
            key={name}
            label={`${name} =`}
            value={textOf(behaviour.expressions, name)}
            problem={problem}
            field={`expressions.${name}`}
            onChange={(text) => set({ expressions: withText(behaviour.expressions, name, text) })}
          />
        ))}
      {(behaviour.kind === "minterms" || behaviour.kind === "maxterms") &&
        bitNames.map((name) => (
          <div key={name} className="grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)] gap-3">
            <Line
              label={`${name} = ${behaviour.kind === "minterms" ? "Σm" : "ΠM"}`}
              value={textOf(behaviour.terms, name)}
              problem={problem}
              field={`terms.${name}`}
              onChange={(text) => set({ terms: withText(behaviour.terms, name, text) })}
            />
            <Line
              label={`${name} don't-cares`}
              value={textOf(behaviour.dont_cares, name)}
              problem={problem}
              field={`dont_cares.${name}`}
              onChange={(text) => set({ dont_cares: withText(behaviour.dont_cares, name, text) })}
            />
          </div>
        ))}
      {behaviour.kind === "table" && (
        <Field
          label="Rows"
          hint="Input bits, a bar, output bits; – is both values or a don't-care; rows left out are don't-cares."
        >
          <textarea
            className={`${CONTROL} mono h-48 text-sm`}
            spellCheck={false}
            value={behaviour.rows}
            onChange={(e) => set({ rows: e.target.value })}
          />
        </Field>
      )}
      {behaviour.kind === "code" && <Code behaviour={behaviour} set={set} />}
      {behaviour.kind === "rate" && <Rate draft={draft} problem={problem} set={setParts} />}
      {behaviour.kind === "sequence" && <Sequence draft={draft} problem={problem} set={setParts} />}
      {behaviour.kind === "states" && <States draft={draft} problem={problem} set={setParts} />}
      {behaviour.kind === "reference" && (
        <>
          <Reference draft={draft} problem={problem} set={setParts} />
          {!readOnly && (
            <FromHandIn
              course={course}
              exercise={exercise}
              take={(files) => {
                const others = draft.parts.attachments.filter(
                  (a) => a.purpose !== "reference" && !files.some((f) => f.name === a.name),
                );
                setParts({ attachments: [...others, ...files], reference_top: "" });
              }}
            />
          )}
        </>
      )}
      {["rows", "code", "dir"].map((start) => (
        <FieldFault key={start} problem={problem} start={start} />
      ))}
      <FieldFault problem={problem} start="" />
    </fieldset>
  );
}

interface ReferenceProps {
  draft: ExerciseForm;
  problem: FieldProblem | null;
  set: (parts: Partial<ExerciseForm["parts"]>) => void;
}

/** Expected is what an attached design does. */
function Reference({ draft, problem, set }: ReferenceProps) {
  const names = draft.parts.attachments.filter((f) => f.purpose === "reference").map((f) => f.name);
  return (
    <div className="space-y-3">
      <p>
        {names.length === 0
          ? "Expected is what a reference design does: attach it below, in Verilog or VHDL."
          : `Expected is what ${names.join(", ")} does. Students never see it.`}
      </p>
      {names.length > 0 && (
        <Field label="Top of the reference" hint="Needed where the files hold several that could be meant.">
          <input
            className={`${CONTROL} mono !w-56`}
            spellCheck={false}
            placeholder="the only one"
            value={draft.parts.reference_top}
            onChange={(e) => set({ reference_top: e.target.value })}
          />
        </Field>
      )}
      <FieldFault problem={problem} start="reference" />
    </div>
  );
}

interface LineProps {
  label: string;
  value: string;
  problem: FieldProblem | null;
  field: string;
  onChange: (text: string) => void;
}

function Line({ label, value, problem, field, onChange }: LineProps) {
  const mine = problem?.field === field ? problem : null;
  return (
    <div>
      <Field label={label}>
        <input
          className={`${CONTROL} mono ${mine ? "border-rust!" : ""}`}
          aria-invalid={mine !== null}
          spellCheck={false}
          autoComplete="off"
          value={value}
          onChange={(e) => onChange(e.target.value)}
        />
      </Field>
      <FieldFault problem={mine} start={field} />
    </div>
  );
}

const SHAPES: { digit: string; plain: string; other: string; label: string }[] = [
  { digit: "6", plain: "6-bar", other: "6-open", label: "6 with its top bar" },
  { digit: "7", plain: "7-hook", other: "7-plain", label: "7 with its hook" },
  { digit: "9", plain: "9-bar", other: "9-open", label: "9 with its bottom bar" },
];

function Code({ behaviour, set }: { behaviour: BehaviourForm; set: (part: Partial<BehaviourForm>) => void }) {
  const code = behaviour.code;
  const patch = (part: Partial<BehaviourForm["code"]>) => set({ code: { ...code, ...part } });
  const isOn = (s: (typeof SHAPES)[number]) =>
    code.digits.includes(s.plain) || (s.digit !== "7" && !code.digits.includes(s.other));
  const toggle = (s: (typeof SHAPES)[number], on: boolean) =>
    patch({ digits: [...code.digits.filter((d) => !d.startsWith(s.digit)), on ? s.plain : s.other] });
  return (
    <div className="space-y-3">
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Code">
          <select className={CONTROL} value={code.rule} onChange={(e) => patch({ rule: e.target.value })}>
            <option value="">Choose…</option>
            {CODE_NAMES.map((rule) => (
              <option key={rule}>{rule}</option>
            ))}
          </select>
        </Field>
        <Field label="Outputs light at">
          <select
            className={CONTROL}
            value={code.active_low ? "low" : "high"}
            onChange={(e) => patch({ active_low: e.target.value === "low" })}
          >
            <option value="high">1 (active-high)</option>
            <option value="low">0 (active-low)</option>
          </select>
        </Field>
      </div>
      {code.rule === "seven-segment" && (
        <>
          <Field
            label="Characters"
            hint="For the numbers 0, 1, 2 and so on; numbers without one are don't-cares."
          >
            <input
              className={`${CONTROL} mono`}
              value={code.text}
              onChange={(e) => patch({ text: e.target.value })}
            />
          </Field>
          <div className="flex flex-wrap gap-4">
            {SHAPES.map((s) => (
              <label key={s.digit} className="flex items-center gap-1.5">
                <input type="checkbox" checked={isOn(s)} onChange={(e) => toggle(s, e.target.checked)} />
                {s.label}
              </label>
            ))}
          </div>
        </>
      )}
    </div>
  );
}
