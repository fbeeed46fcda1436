import type { CostInfo, HazardInfo } from "@/api/schema";
import { Prose } from "@/kit/Prose";

/** What each form costs. */
export function Costs({ costs }: { costs: CostInfo[] }) {
  const least = Math.min(...costs.map((c) => c.package_total));
  const heads = ["form", "terms", "literals", "gates", "gate inputs", "levels", "inverters", "packages"];
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-sm tabular-nums">
        <thead>
          <tr className="border-b-2 border-rule-strong text-left">
            {heads.map((h, i) => (
              <th key={h} scope="col" className={i === 0 ? "py-1" : "py-1 text-right"}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {costs.map((c) => (
            <tr key={c.form} className="border-b border-rule">
              <th scope="row" className="py-1 text-left font-normal">
                {c.form}
              </th>
              {[c.terms, c.literals, c.gates, c.gate_inputs, c.levels, c.inverters].map((n, i) => (
                <td key={heads[i + 1]} className="text-right">
                  {n}
                </td>
              ))}
              <td className="text-right" title={shelf(c)}>
                {c.package_total === least ? <b>{c.package_total}</b> : c.package_total}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-sm text-ink-soft">
        Inverters at the inputs are counted apart. Packages have 14 pins: six inverters, four gates of two
        inputs, three of three, two of four or one of eight.
      </p>
    </div>
  );
}

function shelf(cost: CostInfo): string {
  return cost.packages
    .map((p) => `${p.packages} × ${p.gate}${p.inputs > 1 ? p.inputs : ""} (${p.gates} used)`)
    .join(", ");
}

/** Static hazards of the minimal forms and the terms that remove them. */
export function Hazards({ sop, pos }: { sop: HazardInfo[]; pos: HazardInfo[] }) {
  if (sop.length === 0 && pos.length === 0) {
    return <p>The first minimal sum and product have no static hazard.</p>;
  }
  const list = (title: string, hazards: HazardInfo[]) =>
    hazards.length > 0 && (
      <>
        <h3 className="mt-2 font-bold">{title}</h3>
        <ul className="list-disc pl-5">
          {hazards.map((h) => (
            <li key={h.cube}>
              <Prose text={h.sentence} />
            </li>
          ))}
        </ul>
      </>
    );
  return (
    <>
      {list("Static-1 hazards of the sum of products", sop)}
      {list("Static-0 hazards of the product of sums", pos)}
    </>
  );
}
