import { useMemo, useState } from "react";
import type { HandInPage } from "@/api/types";
import type { RowCursor } from "@/cursor/useRowCursor";
import { TruthTable } from "@/features/exercise";
import { differs } from "@/features/exercise/TruthTable";

/** The rows of a hand-in: what it does, and where that is wrong what it should do. */
export function RowsView({ page, cursor }: { page: HandInPage; cursor: RowCursor }) {
  const [onlyWrong, setOnlyWrong] = useState(false);
  const wrong = useMemo(() => {
    const rows: number[] = [];
    for (let row = 0; row < 2 ** page.inputs.length; row++) {
      if (page.expected.some((e, k) => differs(e.values[row] ?? "", page.actual[k]?.values[row] ?? "")))
        rows.push(row);
    }
    return rows;
  }, [page]);
  const outputs = page.expected.length > 0 ? page.expected : page.actual.map((c) => ({ ...c, values: "" }));
  return (
    <section aria-labelledby="rows-title">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="rows-title" className="text-lg font-bold">
          Rows
        </h2>
        {wrong.length > 0 && (
          <label className="flex items-center gap-1.5 text-sm">
            <input type="checkbox" checked={onlyWrong} onChange={(e) => setOnlyWrong(e.target.checked)} />
            only the {wrong.length} wrong
          </label>
        )}
      </div>
      <TruthTable
        inputs={page.inputs}
        outputs={outputs}
        actual={page.actual}
        cursor={cursor}
        {...(onlyWrong ? { rows: wrong } : {})}
        label={`What the design of ${page.student} does`}
        maxHeight="26rem"
      />
    </section>
  );
}
