/** The bars a to g of a digit. */
const BARS = ["M14 8H46", "M50 12V44", "M50 52V84", "M14 88H46", "M10 52V84", "M10 12V44", "M14 48H46"];

interface Props {
  /** Lit, dark or either, for a to g. */
  segments: ("1" | "0" | "-")[];
  label: string;
}

/** A seven-segment digit: lit bars thick and amber, dark ones thin, don't-cares hatched. */
export function Digit({ segments, label }: Props) {
  return (
    <svg viewBox="0 0 60 96" className="h-36 border border-rule bg-sheet" role="img" aria-label={label}>
      {BARS.map((d, i) => {
        const level = segments[i];
        return (
          <path
            key={d}
            d={d}
            stroke={level === "1" ? "var(--amber)" : level === "-" ? "var(--violet)" : "var(--rule)"}
            strokeWidth={level === "1" ? 7 : level === "-" ? 3 : 1.5}
            strokeDasharray={level === "-" ? "3 3" : undefined}
            strokeLinecap="round"
          />
        );
      })}
    </svg>
  );
}
