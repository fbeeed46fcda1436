import { useMemo, useState } from "react";
import type { HandInPage } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { TruthTable } from "@/features/exercise";
import { differs } from "@/features/exercise/TruthTable";
import { KarnaughMap, mapPlan } from "@/features/workings";
import { CONTROL } from "@/kit/Field";
import { classWords, onRow } from "./rowClass";

/** Rows up to which the wrong ones are put first. */
const SORTED = 4096;

type Order = "first" | "only" | "count";

/** What every output should do on the cursor's row, and the products that say so. */
function RowClasses({ page, row }: { page: HandInPage; row: number }) {
  return (
    <ul className="mt-2 space-y-0.5 text-sm" aria-live="polite" aria-label={`Row ${row}`}>
      {onRow(page, row).map((o) => (
        <li key={o.output}>
          <span className="mono font-bold">{o.output}</span> {classWords(o)}
          {o.wrong && <span className="text-rust-ink"> — but it is {o.actual.toLowerCase()}</span>}
        </li>
      ))}
    </ul>
  );
}

/** The map of one expected output; wrong cells are struck through, with what the design does in the corner. */
function RowsMap({ page, cursor, firstWrong }: { page: HandInPage; cursor: RowCursor; firstWrong: number }) {
  const [chosen, setChosen] = useState<number | null>(null);
  const plan = mapPlan(page.inputs.length);
  const index = chosen ?? Math.max(firstWrong, 0);
  const output = page.expected[index];
  if (plan === null || page.inputs.length < 2 || output === undefined) return null;
  const terms = page.terms.filter((t) => t.output === output.name);
  return (
    <div className="mt-4">
      <label className="flex items-center gap-2 text-sm">
        Map of
        <select
          className={`${CONTROL} mono mt-0! w-40!`}
          value={index}
          onChange={(e) => setChosen(Number(e.target.value))}
        >
          {page.expected.map((o, k) => (
            <option key={o.name} value={k}>
              {o.name}
            </option>
          ))}
        </select>
        <span className="text-ink-soft">expected; struck through where the design differs</span>
      </label>
      <KarnaughMap
        plan={plan}
        inputs={page.inputs}
        values={output.values}
        actual={page.actual[index]?.values ?? ""}
        groups={terms.map((t) => t.cube)}
        cursor={cursor}
        label={`Map of ${output.name}`}
      />
    </div>
  );
}

/** The rows of a hand-in: what it does, and where that is wrong what it should do. */
export function RowsView({ page, cursor }: { page: HandInPage; cursor: RowCursor }) {
  const count = 2 ** page.inputs.length;
  const [order, setOrder] = useState<Order>(count <= SORTED ? "first" : "count");
  const wrong = useMemo(() => {
    const rows: number[] = [];
    for (let row = 0; row < count; row++) {
      if (page.expected.some((e, k) => differs(e.values[row] ?? "", page.actual[k]?.values[row] ?? "")))
        rows.push(row);
    }
    return rows;
  }, [page, count]);
  const rows = useMemo(() => {
    if (wrong.length === 0 || order === "count") return undefined;
    if (order === "only") return wrong;
    const bad = new Set(wrong);
    return [...wrong, ...Array.from({ length: count }, (_, row) => row).filter((row) => !bad.has(row))];
  }, [wrong, order, count]);
  const firstWrong = page.expected.findIndex((e, k) =>
    wrong.some((row) => differs(e.values[row] ?? "", page.actual[k]?.values[row] ?? "")),
  );
  const outputs = page.expected.length > 0 ? page.expected : page.actual.map((c) => ({ ...c, values: "" }));
  return (
    <section aria-labelledby="rows-title">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="rows-title" className="text-lg font-bold">
          Rows
        </h2>
        {wrong.length > 0 && (
          <label className="flex items-center gap-2 text-sm">
            {wrong.length} wrong
            <select
              className={`${CONTROL} mt-0! w-44!`}
              value={order}
              aria-label="Order of the rows"
              onChange={(e) => setOrder(e.target.value as Order)}
            >
              {count <= SORTED && <option value="first">wrong rows first</option>}
              <option value="only">only the wrong rows</option>
              <option value="count">in the table’s order</option>
            </select>
          </label>
        )}
      </div>
      <TruthTable
        inputs={page.inputs}
        outputs={outputs}
        actual={page.actual}
        cursor={cursor}
        {...(rows === undefined ? {} : { rows })}
        label={`What the design of ${page.student} does`}
        maxHeight="26rem"
      />
      {page.expected.length > 0 && <RowClasses page={page} row={cursor.row} />}
      {page.expected.length > 0 && <RowsMap page={page} cursor={cursor} firstWrong={firstWrong} />}
    </section>
  );
}
