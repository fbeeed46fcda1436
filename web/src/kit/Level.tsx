import { clsx } from "clsx";

/** A logic level in a table: high on an amber ground, low plain, unknown hatched, floating dotted. */
export function Level({ value, wrong = false }: { value: string; wrong?: boolean }) {
  return (
    <span
      className={clsx(
        "mono inline-flex h-6 w-6 items-center justify-center",
        value === "1" && "bg-amber-wash font-bold text-amber-ink",
        value === "X" && "hatched text-violet font-bold",
        value === "Z" && "border border-dotted border-rule-strong text-ink-soft",
        (value === "-" || value === "–") && "text-ink-soft",
        wrong && "outline-2 -outline-offset-2 outline-rust font-bold",
      )}
    >
      {value === "-" ? "–" : value}
    </span>
  );
}
