import type { ClockedInfo } from "@/api/schema";
import { Prose } from "@/kit/Prose";

/** Clock, reset and rule of a clocked exercise, with its state table or patterns. */
export function ClockedRule({ clocked }: { clocked: ClockedInfo }) {
  const facts: [string, string][] = [
    ["Clock", clocked.clock],
    ["Reset", clocked.reset],
    ["Rule", clocked.rule],
  ];
  return (
    <>
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
        {facts.map(([name, text]) => (
          <div key={name} className="contents">
            <dt className="text-ink-soft">{name}</dt>
            <dd>
              <Prose text={text} />
            </dd>
          </div>
        ))}
      </dl>
      {clocked.rows.length > 0 && (
        <div className="mt-3 max-h-96 overflow-auto border border-rule bg-sheet">
          <table className="w-full text-left">
            <thead className="sticky top-0 bg-paper">
              <tr>
                {clocked.columns.map((name) => (
                  <th key={name} scope="col" className="border-b border-rule-strong px-3 py-1 font-bold">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {clocked.rows.map((row) => (
                <tr key={row.join(" ")} className="border-b border-rule last:border-0">
                  {row.map((cell, i) =>
                    i === 0 ? (
                      <th key={clocked.columns[i]} scope="row" className="mono px-3 py-1 font-bold">
                        {cell}
                      </th>
                    ) : (
                      <td key={clocked.columns[i]} className="mono px-3 py-1">
                        {cell}
                      </td>
                    ),
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
