import { cloneElement, type ReactElement, type ReactNode, useId } from "react";

interface Props {
  label: string;
  hint?: ReactNode;
  /** The control; it is given the id that the label names. */
  children: ReactElement<{ id?: string; "aria-describedby"?: string }>;
}

/** A label over its control, and a hint under it. */
export function Field({ label, hint, children }: Props) {
  const id = useId();
  const described = hint === undefined ? {} : { "aria-describedby": `${id}-hint` };
  return (
    <div>
      <label htmlFor={id} className="block font-medium">
        {label}
      </label>
      {cloneElement(children, { id, ...described })}
      {hint !== undefined && (
        <span id={`${id}-hint`} className="mt-0.5 block text-sm text-ink-soft">
          {hint}
        </span>
      )}
    </div>
  );
}

export const CONTROL = "mt-1 w-full border border-rule-strong bg-paper px-2 py-1.5 rounded-sm text-ink";

export const FILE =
  "mt-1 block text-ink-soft file:mr-3 file:border file:border-solid file:border-rule-strong file:bg-sheet file:px-3 file:py-1.5 file:font-medium file:text-ink file:rounded-sm";
