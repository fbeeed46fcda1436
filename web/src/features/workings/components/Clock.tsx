import type { ExerciseForm, FieldProblem, PartsForm } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import { FieldFault } from "./FieldFault";

export interface PartsProps {
  draft: ExerciseForm;
  problem: FieldProblem | null;
  readOnly: boolean;
  set: (parts: Partial<PartsForm>) => void;
}

/** Clock and reset: with a clock the exercise is judged over time. */
export function Clock({ draft, problem, readOnly, set }: PartsProps) {
  const clock = draft.parts.clock;
  const patch = (part: Partial<PartsForm["clock"]>) => set({ clock: { ...clock, ...part } });
  const inputs = draft.ports.filter((p) => p.dir === "in" && p.range === "").map((p) => p.name);
  const input = (label: string, value: string, none: string, onChange: (name: string) => void) => (
    <Field label={label}>
      <select className={CONTROL} value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">{none}</option>
        {[...new Set([...inputs, ...(value === "" ? [] : [value])])].map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </Field>
  );
  return (
    <fieldset disabled={readOnly} className="grid gap-3 sm:grid-cols-3">
      <legend className="sr-only">Clock and reset</legend>
      {input("Clock", clock.port, "none", (port) => patch({ port }))}
      {clock.port !== "" && (
        <>
          <Field label="Edge">
            <select
              className={CONTROL}
              value={clock.edge || "rising"}
              onChange={(e) => patch({ edge: e.target.value })}
            >
              <option>rising</option>
              <option>falling</option>
            </select>
          </Field>
          <Field label="Frequency in Hz" hint="Of the board's oscillator; needed for rates in Hz.">
            <input
              className={`${CONTROL} mono`}
              inputMode="numeric"
              value={clock.frequency_hz}
              onChange={(e) => patch({ frequency_hz: e.target.value })}
            />
          </Field>
          {input("Reset", clock.reset, "none", (reset) => patch({ reset }))}
          {clock.reset !== "" && (
            <>
              <Field label="Resets at">
                <select
                  className={CONTROL}
                  value={clock.reset_active || "high"}
                  onChange={(e) => patch({ reset_active: e.target.value })}
                >
                  <option value="high">1 (active-high)</option>
                  <option value="low">0 (active-low)</option>
                </select>
              </Field>
              <Field label="Kind of reset">
                <select
                  className={CONTROL}
                  value={clock.reset_kind || "sync"}
                  onChange={(e) => patch({ reset_kind: e.target.value })}
                >
                  <option value="sync">synchronous</option>
                  <option value="async">asynchronous</option>
                </select>
              </Field>
            </>
          )}
        </>
      )}
      <div className="sm:col-span-3">
        <FieldFault problem={problem} start="clock" />
      </div>
    </fieldset>
  );
}
