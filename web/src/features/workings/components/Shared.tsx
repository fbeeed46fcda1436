import type { Derivation } from "@/api/schema";
import { covers } from "../model/map";

interface Props {
  derivation: Derivation;
  row: number;
  shared: boolean;
  setShared: (shared: boolean) => void;
}

/** Products that several outputs use, with as few different ones as possible. */
export function Shared({ derivation, row, shared, setShared }: Props) {
  const found = derivation.shared;
  return (
    <div>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={shared} onChange={(e) => setShared(e.target.checked)} />
        Share products between the outputs
      </label>
      {shared && found !== null && (
        <>
          <p className="mt-2">
            {found.terms} different products with {found.literals} literals{" "}
            {found.optimal ? "(proved fewest)" : "(not proved fewest)"}; each output for itself needs{" "}
            {found.apart_terms} together.
          </p>
          <div className="overflow-x-auto">
            <table className="mt-2 text-sm">
              <thead>
                <tr className="border-b-2 border-rule-strong text-left">
                  <th scope="col" className="pr-6">
                    product
                  </th>
                  {derivation.outputs.map((o) => (
                    <th key={o.name} scope="col" className="px-2 text-center">
                      {o.name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {found.products.map((p) => (
                  <tr
                    key={p.cube}
                    className={
                      covers(p.cube, row) ? "border-b border-rule bg-amber-wash" : "border-b border-rule"
                    }
                  >
                    <th scope="row" className="mono pr-6 text-left font-normal">
                      {p.text}
                    </th>
                    {derivation.outputs.map((o) => (
                      <td key={o.name} className="text-center">
                        {p.outputs.includes(o.name) ? "●" : ""}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </div>
  );
}
