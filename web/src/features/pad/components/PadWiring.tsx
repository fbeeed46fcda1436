import type { ExercisePage } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import type { PadText } from "../model/pad";
import { readWires, type Wires, writeWires } from "../model/wiring";

interface Props {
  page: ExercisePage;
  wiring: PadText | null;
  onChange: (wiring: PadText | null) => void;
}

/** Which part of the board each port bit ends at. */
export function PadWiring({ page, wiring, onChange }: Props) {
  const parts = page.board?.parts ?? [];
  if (page.board === null) return null;
  const wires: Wires | null = wiring === null ? {} : readWires(wiring.text, parts);
  const put = (bit: string, part: string) => {
    if (wires !== null) onChange(writeWires({ ...wires, [bit]: part }));
  };
  const plan = Object.fromEntries(page.plan.map((line) => [line.bit, line.part]));
  const bits = page.ports.flatMap((p) => p.bits.map((bit) => ({ bit, isInput: p.dir === "in" })));
  const known = new Set(bits.map((b) => b.bit));
  const pinOf = (label: string) => parts.find((p) => p.label === label)?.pin;
  return (
    <details open={wiring !== null}>
      <summary className="cursor-pointer text-lg font-bold">
        Wiring{" "}
        <span className="text-base font-normal text-ink-soft">
          {wiring === null ? "none yet" : `${wiring.name} goes along`}
        </span>
      </summary>
      <div className="my-2 flex flex-wrap gap-2">
        {page.plan.length > 0 && <Button onClick={() => onChange(writeWires(plan))}>As the plan says</Button>}
        {wiring !== null && <Button onClick={() => onChange(null)}>No wiring</Button>}
      </div>
      {wires === null ? (
        <textarea
          aria-label="Wiring file"
          className={`${CONTROL} mono h-48 text-sm`}
          spellCheck={false}
          value={wiring?.text ?? ""}
          onChange={(e) => wiring !== null && onChange({ ...wiring, text: e.target.value })}
        />
      ) : (
        <table className="w-full border-collapse text-sm">
          <thead>
            <tr className="border-b border-rule-strong text-left text-ink-soft">
              {["Port bit", "Part", "Pin"].map((head) => (
                <th key={head} scope="col" className="pr-4 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {bits.map(({ bit, isInput }) => {
              const label = wires[bit] ?? "";
              const fits = parts.filter((p) => (p.kind === "led") !== isInput).map((p) => p.label);
              return (
                <tr key={bit} className="border-b border-rule">
                  <th scope="row" className="mono text-left font-normal">
                    {bit} <span className="text-ink-soft">{isInput ? "in" : "out"}</span>
                  </th>
                  <td>
                    <select
                      aria-label={`Part of ${bit}`}
                      className={`${CONTROL} mono mt-0! w-28! py-0.5!`}
                      value={label}
                      onChange={(e) => put(bit, e.target.value)}
                    >
                      <option value="">not wired</option>
                      {[...new Set([...fits, ...(label === "" ? [] : [label])])].map((part) => (
                        <option key={part}>{part}</option>
                      ))}
                    </select>
                  </td>
                  <td className="mono text-ink-soft">{pinOf(label)}</td>
                </tr>
              );
            })}
            {Object.entries(wires)
              .filter(([bit]) => !known.has(bit))
              .map(([bit, label]) => (
                <tr key={bit} className="border-b border-rule">
                  <th scope="row" className="mono text-left font-normal">
                    {bit} <span className="text-rust-ink">no port</span>
                  </th>
                  <td className="mono">{label}</td>
                  <td>
                    <Button strength="quiet" onClick={() => put(bit, "")}>
                      Remove
                    </Button>
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
    </details>
  );
}
