import type { ReactNode } from "react";

/** A label over its control. */
export function Field({ label, hint, children }: { label: string; hint?: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label className="block">
      <span className="block font-medium">{label}</span>
      {children}
      {hint !== undefined && <span className="mt-0.5 block text-sm text-ink-soft">{hint}</span>}
    </label>
  );
}

export const CONTROL = "mt-1 w-full border border-rule-strong bg-paper px-2 py-1.5 rounded-sm text-ink";

export const FILE =
  "mt-1 block text-ink-soft file:mr-3 file:border file:border-solid file:border-rule-strong file:bg-sheet file:px-3 file:py-1.5 file:font-medium file:text-ink file:rounded-sm";
