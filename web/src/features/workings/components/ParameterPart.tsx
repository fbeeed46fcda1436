import { CONTROL, Field } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

/** A parameter of the top that widths depend on, and the values at which a design is checked. */
export function ParameterPart({ draft, problem, readOnly, set }: PartsProps) {
  const parameter = draft.parts.parameter;
  const input = (label: string, key: "name" | "usual" | "also", hint?: string) => (
    <Field label={label} {...(hint !== undefined && { hint })}>
      <input
        className={`${CONTROL} mono`}
        spellCheck={false}
        autoComplete="off"
        value={parameter[key]}
        onChange={(e) => set({ parameter: { ...parameter, [key]: e.target.value } })}
      />
    </Field>
  );
  return (
    <details open={parameter.name !== ""} className="mt-4">
      <summary className="cursor-pointer font-bold">Parameter</summary>
      <fieldset disabled={readOnly} className="mt-1 grid gap-3 sm:grid-cols-3">
        <legend className="sr-only">Parameter</legend>
        {input("Name", "name", "Ranges may use it: N-1:0. In VHDL a generic.")}
        {input("Usual value", "usual", "Table, waves and wiring are about it.")}
        {input("Also checked at", "also", "Such as 1, 8, 24.")}
      </fieldset>
      <FieldFault problem={problem} start="parameter" />
    </details>
  );
}
