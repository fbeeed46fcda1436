import type { ExercisePage } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { rowText } from "@/cursor/useRowCursor";
import { ClockedRule } from "./ClockedRule";
import { Rules } from "./Rules";
import { TruthTable } from "./TruthTable";
import { WideRule } from "./WideRule";

/** Signals in words: `in full, gate, run · out motor, stops[1:0]`. */
function Signals({ page }: { page: ExercisePage }) {
  const list = (dir: string) => page.ports.filter((p) => p.dir === dir).map((p) => `${p.name}${p.range}`);
  return (
    <p className="mono text-sm">
      <span className="text-ink-soft">in</span> {list("in").join(", ")}{" "}
      <span className="text-ink-soft">· out</span> {list("out").join(", ")}
    </p>
  );
}

/** The cursor's row in words, read out when it moves. */
function RowInWords({ page, row }: { page: ExercisePage; row: number }) {
  const bits = rowText(row, page.inputs.length);
  const inputs = page.inputs.map((name, i) => `${name}=${bits[i]}`).join(" ");
  const outputs = page.outputs
    .filter((o) => o.values !== "")
    .map((o) => `${o.name}=${o.values[row] === "-" ? "either" : o.values[row]}`)
    .join(" ");
  return (
    <p className="mono mt-2 text-sm" aria-live="polite">
      Row {row}: {inputs}
      {outputs !== "" && ` → ${outputs}`}
    </p>
  );
}

/** Signals and truth table, clock and rule, or the expected behaviour line by line. */
export function ExerciseView({ page, cursor }: { page: ExercisePage; cursor: RowCursor }) {
  const tabled = page.clocked === null && page.wide === null;
  return (
    <section aria-labelledby="table-title">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="table-title" className="text-lg font-bold">
          {tabled ? "Truth table" : "Behaviour"}
        </h2>
        <Signals page={page} />
      </div>
      {page.clocked !== null && <ClockedRule clocked={page.clocked} />}
      {page.wide !== null && <WideRule lines={page.wide} />}
      {tabled && (
        <>
          <TruthTable
            inputs={page.inputs}
            outputs={page.outputs}
            cursor={cursor}
            label={`Truth table of ${page.title}`}
            maxHeight="32rem"
          />
          <RowInWords page={page} row={cursor.row} />
        </>
      )}
      <Rules list={page.rules} />
    </section>
  );
}
