import { clsx } from "clsx";
import type { StepsInfo } from "@/api/schema";
import { Prose } from "@/kit/Prose";
import { covers } from "../model/map";

/** The tabular method: grouping columns, the prime chart, and what was done in it. */
export function Steps({ steps, row, isSum }: { steps: StepsInfo; row: number; isSum: boolean }) {
  if (steps.chart_rows.length === 0) {
    return <p>{isSum ? "No row has to be 1" : "No row has to be 0"}, so there is nothing to cover.</p>;
  }
  return (
    <div className="space-y-4">
      <Grouping steps={steps} row={row} />
      <Chart steps={steps} row={row} />
      <ol className="list-decimal pl-6">
        {steps.chart.map((step) => (
          <li key={step.sentence} className="py-0.5">
            <Prose text={step.sentence} />
          </li>
        ))}
      </ol>
    </div>
  );
}

function Grouping({ steps, row }: { steps: StepsInfo; row: number }) {
  return (
    <div className="flex flex-wrap gap-x-10 gap-y-3">
      {steps.columns.map((column, dashes) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: columns in order
        <table key={dashes} className="mono self-start text-sm">
          <caption className="text-left font-sans font-bold">
            {dashes === 0 ? "Rows by number of ones" : `${dashes} dash${dashes === 1 ? "" : "es"}`}
          </caption>
          <tbody>
            {column.map((group) =>
              group.cubes.map((cube, i) => (
                <tr key={cube.cube} className={clsx(i === 0 && "border-t border-rule-strong")}>
                  <td className="pr-3 text-ink-soft">{i === 0 ? group.ones : ""}</td>
                  <td className={clsx("pr-3", covers(cube.cube, row) && "bg-amber-wash")}>{cube.cube}</td>
                  <td className="pr-3 text-ink-soft">
                    {cube.rows.length <= 8 ? cube.rows.join(",") : `${cube.rows.length} rows`}
                  </td>
                  <td>
                    {cube.combined ? (
                      <span title="combined">✓</span>
                    ) : (
                      <b title="combines no further">prime</b>
                    )}
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      ))}
    </div>
  );
}

function Chart({ steps, row }: { steps: StepsInfo; row: number }) {
  const essential = new Set(steps.chart.filter((s) => s.kind === "essential").flatMap((s) => s.takes));
  const alone = (r: number) => steps.chart_primes.filter((p) => covers(p, r)).length === 1;
  return (
    <div className="overflow-x-auto">
      <table className="mono text-sm">
        <caption className="text-left font-sans font-bold">Prime chart</caption>
        <thead>
          <tr className="border-b-2 border-rule-strong">
            <th scope="col" className="pr-4 text-left font-normal text-ink-soft">
              prime
            </th>
            {steps.chart_rows.map((r) => (
              <th key={r} scope="col" className={clsx("min-w-7 px-1", r === row && "bg-amber-wash")}>
                {r}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {steps.chart_primes.map((prime) => (
            <tr
              key={prime}
              className={clsx("border-b border-rule", steps.cover.includes(prime) && "font-bold")}
            >
              <th scope="row" className="pr-4 text-left font-[inherit]">
                {prime}
                {essential.has(prime) ? " *" : ""}
              </th>
              {steps.chart_rows.map((r) => (
                <td key={r} className={clsx("text-center", r === row && "bg-amber-wash")}>
                  {covers(prime, r) ? (alone(r) ? "⊗" : "×") : ""}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-sm text-ink-soft">
        ⊗ the only prime of its row · * taken because of it · bold: in the result
      </p>
    </div>
  );
}
