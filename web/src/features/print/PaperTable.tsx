import { rowText } from "@/cursor/useRowCursor";

interface Props {
  inputs: string[];
  /** Output names with a letter a row, or without letters for cells to be filled in. */
  outputs: { name: string; values: string }[];
}

/** A truth table for paper, in as many columns side by side as it needs to stay on the page. */
export function PaperTable({ inputs, outputs }: Props) {
  const count = 2 ** inputs.length;
  const strips = count > 32 ? 3 : count > 16 ? 2 : 1;
  const each = Math.ceil(count / strips);
  const starts = Array.from({ length: strips }, (_, i) => i * each);
  return (
    <div className="flex flex-wrap gap-6">
      {starts.map((start) => (
        <table key={start} className="paper-table mono self-start text-sm">
          <thead>
            <tr>
              <th scope="col" className="font-normal text-ink-soft">
                row
              </th>
              {inputs.map((n) => (
                <th key={n} scope="col">
                  {n}
                </th>
              ))}
              {outputs.map((o, i) => (
                <th key={o.name} scope="col" className={i === 0 ? "first-output" : ""}>
                  {o.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: Math.min(each, count - start) }, (_, i) => start + i).map((row) => (
              <tr key={row}>
                <td className="text-ink-soft">{row}</td>
                {[...rowText(row, inputs.length)].map((bit, i) => (
                  <td key={inputs[i]}>{bit}</td>
                ))}
                {outputs.map((o, i) => (
                  <td key={o.name} className={i === 0 ? "first-output" : ""}>
                    {o.values[row] === "-" ? "–" : (o.values[row] ?? "\u00a0")}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </div>
  );
}
