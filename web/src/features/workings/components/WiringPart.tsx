import { BOARD_NAMES } from "@/api/lists";
import type { FreeLabels, PortInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

interface Props extends PartsProps {
  ports: PortInfo[];
  /** Labels for inputs, then those for outputs. */
  labels: FreeLabels;
}

/** The board, and which part each bit ends at. */
export function WiringPart({ draft, problem, readOnly, set, ports, labels }: Props) {
  const { board, map } = draft.parts.wiring;
  const of = (bit: string) => map.find((m) => m.name === bit)?.text ?? "";
  const put = (bit: string, label: string) =>
    set({ wiring: { board, map: [...map.filter((m) => m.name !== bit), { name: bit, text: label }] } });
  const bits = ports.flatMap((p) => p.bits.map((bit) => ({ bit, isInput: p.dir === "in" })));
  const free = (isInput: boolean) => (isInput ? labels.inputs : labels.outputs);
  const inOrder = () => {
    const clock = draft.parts.clock.port;
    // The clock belongs to the oscillator, and nothing else does.
    const oscillator = labels.inputs.find((l) => l.startsWith("G")) ?? "";
    const inputs = labels.inputs.filter((l) => !l.startsWith("G"));
    const outputs = [...labels.outputs];
    const next = bits.map(({ bit, isInput }) => ({
      name: bit,
      text: bit === clock ? oscillator : ((isInput ? inputs : outputs).shift() ?? ""),
    }));
    set({ wiring: { board, map: next } });
  };
  return (
    <fieldset disabled={readOnly} className="space-y-3">
      <legend className="sr-only">Wiring plan</legend>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Board">
          <select
            className={CONTROL}
            value={board}
            onChange={(e) => set({ wiring: { board: e.target.value, map } })}
          >
            <option value="">none: not wired</option>
            {[...new Set([...BOARD_NAMES, ...(board === "" ? [] : [board])])].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </Field>
        {board !== "" && bits.length > 0 && labels.inputs.length > 0 && (
          <Button onClick={inOrder}>Wire in order</Button>
        )}
      </div>
      {board !== "" && (
        <div className="grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4">
          {bits.map(({ bit, isInput }) => (
            <Field key={bit} label={bit}>
              <select
                className={`${CONTROL} mono`}
                value={of(bit)}
                onChange={(e) => put(bit, e.target.value)}
              >
                <option value="">anywhere</option>
                {[...new Set([...free(isInput), ...(of(bit) === "" ? [] : [of(bit)])])].map((label) => (
                  <option key={label}>{label}</option>
                ))}
              </select>
            </Field>
          ))}
        </div>
      )}
      <FieldFault problem={problem} start="wiring" />
    </fieldset>
  );
}
