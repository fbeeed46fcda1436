import type { Stimulus } from "@/api/schema";
import { CONTROL } from "@/kit/Field";
import { KINDS, splitLine, withLine } from "./stimulus";

interface Props {
  stimulus: Stimulus;
  onChange: (stimulus: Stimulus) => void;
}

function NumberField(props: { label: string; value: number; onChange: (value: number) => void }) {
  return (
    <label className="flex items-center gap-2 text-sm">
      {props.label}
      <input
        className={`${CONTROL} mono mt-0! w-24!`}
        inputMode="decimal"
        defaultValue={props.value}
        onBlur={(e) => props.onChange(Number(e.target.value.replace(",", ".")) || props.value)}
      />
      ns
    </label>
  );
}

/** What each input does, a line each. */
export function StimulusEditor({ stimulus, onChange }: Props) {
  return (
    <div className="border border-rule bg-sheet p-3">
      <div className="mb-2 flex flex-wrap gap-4">
        <NumberField
          key={`step ${stimulus.step_ns}`}
          label="a step takes"
          value={stimulus.step_ns}
          onChange={(step_ns) => onChange({ ...stimulus, step_ns })}
        />
        <NumberField
          key={`length ${stimulus.length_ns}`}
          label="all of it takes"
          value={stimulus.length_ns}
          onChange={(length_ns) => onChange({ ...stimulus, length_ns })}
        />
      </div>
      <ul className="grid gap-1.5">
        {stimulus.inputs.map(({ input, line }) => {
          const [kind, rest] = splitLine(line);
          const example = KINDS.find(([k]) => k === kind)?.[1] ?? "";
          return (
            <li key={input} className="flex flex-wrap items-center gap-2">
              <span className="mono w-28 truncate">{input}</span>
              <select
                aria-label={`What ${input} does`}
                className={`${CONTROL} mt-0! w-28!`}
                value={kind}
                onChange={(e) => {
                  const begin = KINDS.find(([k]) => k === e.target.value)?.[1] ?? "";
                  onChange(withLine(stimulus, input, `${e.target.value} ${begin}`.trim()));
                }}
              >
                {KINDS.map(([k]) => (
                  <option key={k}>{k}</option>
                ))}
              </select>
              {kind !== "count" && (
                <input
                  aria-label={`${kind} of ${input}`}
                  className={`${CONTROL} mono mt-0! w-auto! min-w-40 grow`}
                  placeholder={example}
                  value={rest}
                  onChange={(e) => onChange(withLine(stimulus, input, `${kind} ${e.target.value}`))}
                />
              )}
            </li>
          );
        })}
      </ul>
      <p className="mt-2 text-sm text-ink-soft">
        <b>count</b> goes through all combinations, <b>clock</b> 20 high 5 start 1, <b>hold</b> a value,{" "}
        <b>pattern</b> a value each step (1*3 three times, repeat at the end), <b>edges</b> time=value. Times
        in ns; values like 5, 0x2f, 0b101, -3 or x.
      </p>
    </div>
  );
}
