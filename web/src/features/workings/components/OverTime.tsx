import type { PartsForm } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

type OverTimeProps = Omit<PartsProps, "readOnly">;

function Output({
  draft,
  value,
  onChange,
}: {
  draft: PartsProps["draft"];
  value: string;
  onChange: (v: string) => void;
}) {
  const names = draft.ports.filter((p) => p.dir === "out").map((p) => p.name);
  return (
    <Field label="Output">
      <select className={CONTROL} value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">Choose…</option>
        {[...new Set([...names, ...(value === "" ? [] : [value])])].map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </Field>
  );
}

/** An output that repeats at a rate. */
export function Rate({ draft, problem, set }: OverTimeProps) {
  const rate = draft.parts.rate;
  const patch = (part: Partial<PartsForm["rate"]>) => set({ rate: { ...rate, ...part } });
  const number = (key: Exclude<keyof typeof rate, "output">, label: string, hint: string) => (
    <Field label={label} hint={hint}>
      <input
        className={`${CONTROL} mono`}
        inputMode="decimal"
        value={rate[key]}
        onChange={(e) => patch({ [key]: e.target.value })}
      />
    </Field>
  );
  const clock = Number(draft.parts.clock.frequency_hz.replaceAll("_", ""));
  const hertz = Number(rate.frequency_hz);
  const half = clock > 0 && hertz > 0 ? clock / hertz / 2 : 0;
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Output draft={draft} value={rate.output} onChange={(output) => patch({ output })} />
      {number("frequency_hz", "Hz", "How often it repeats in a second; or give cycles.")}
      {number("period_cycles", "Cycles of a period", "Instead of Hz.")}
      {number("duty", "High for", "As a share of the period; empty: a half.")}
      {number("tolerance_cycles", "Tolerance in cycles", "Empty: exact.")}
      {half > 0 && (
        <p className="self-end text-sm text-ink-soft">
          {Number.isInteger(half)
            ? `A counter from 0 to ${(half - 1).toLocaleString("en-GB")} turns it over.`
            : "The clock is no even multiple of it: give a tolerance."}
        </p>
      )}
      <div className="sm:col-span-2">
        <FieldFault problem={problem} start="rate" />
      </div>
    </div>
  );
}

/** Patterns that follow one another. */
export function Sequence({ draft, problem, set }: OverTimeProps) {
  const sequence = draft.parts.sequence;
  const patch = (part: Partial<PartsForm["sequence"]>) => set({ sequence: { ...sequence, ...part } });
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Output draft={draft} value={sequence.output} onChange={(output) => patch({ output })} />
      <Field label="Clock cycles of a step" hint="Empty: one.">
        <input
          className={`${CONTROL} mono`}
          inputMode="numeric"
          value={sequence.step_cycles}
          onChange={(e) => patch({ step_cycles: e.target.value })}
        />
      </Field>
      <div className="sm:col-span-2">
        <Field label="Patterns" hint="A line each, from the end of the reset on.">
          <textarea
            className={`${CONTROL} mono h-36`}
            spellCheck={false}
            value={sequence.patterns}
            onChange={(e) => patch({ patterns: e.target.value })}
          />
        </Field>
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={sequence.repeats}
          onChange={(e) => patch({ repeats: e.target.checked })}
        />
        Begins anew behind the last one
      </label>
      <div className="sm:col-span-2">
        <FieldFault problem={problem} start="sequence" />
      </div>
    </div>
  );
}
