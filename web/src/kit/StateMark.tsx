import type { ReactNode } from "react";

/** How a hand-in stands, as a shape that reads without colour. */
export interface Mark {
  state: string;
  passed: number;
  total: number;
  stale: boolean;
  signed: boolean;
}

/** The mark in words, for assistive technology and tooltips. */
export function markWords(mark: Mark): string {
  const base: Record<string, string> = {
    passed: "passed",
    partly: `partly, ${mark.passed} of ${mark.total} right`,
    failed: "failed",
    waiting: "waiting for its check",
    cannot_tell: "can't tell",
  };
  const extra = [mark.stale ? "stale" : "", mark.signed ? "signed off" : ""].filter((t) => t !== "");
  return [base[mark.state] ?? mark.state, ...extra].join(", ");
}

function shape(mark: Mark): ReactNode {
  const dash = mark.stale ? "2.6 2" : undefined;
  switch (mark.state) {
    case "passed":
      return (
        <>
          <circle
            cx="12"
            cy="12"
            r="7.5"
            fill="var(--leaf)"
            stroke="var(--leaf)"
            strokeWidth="2"
            strokeDasharray={dash}
            fillOpacity={mark.stale ? 0.25 : 1}
          />
          <path
            d="M8.3 12.2l2.6 2.7 4.9-5.6"
            fill="none"
            stroke={mark.stale ? "var(--leaf)" : "var(--sheet)"}
            strokeWidth="2"
          />
        </>
      );
    case "partly":
      return (
        <>
          <circle
            cx="12"
            cy="12"
            r="7.5"
            fill="none"
            stroke="var(--amber)"
            strokeWidth="2"
            strokeDasharray={dash}
          />
          <path d="M12 4.5a7.5 7.5 0 0 1 0 15z" fill="var(--amber)" />
        </>
      );
    case "failed":
      return (
        <>
          <circle
            cx="12"
            cy="12"
            r="7.5"
            fill="none"
            stroke="var(--rust)"
            strokeWidth="2"
            strokeDasharray={dash}
          />
          <path d="M7.5 12h9" stroke="var(--rust)" strokeWidth="2.6" />
        </>
      );
    case "waiting":
      return (
        <circle
          cx="12"
          cy="12"
          r="7.5"
          fill="none"
          stroke="var(--ink-soft)"
          strokeWidth="2.6"
          strokeLinecap="round"
          strokeDasharray="0.1 5.8"
        />
      );
    default:
      return (
        <>
          <circle
            cx="12"
            cy="12"
            r="7.5"
            fill="none"
            stroke="var(--violet)"
            strokeWidth="2"
            strokeDasharray={dash}
          />
          <path d="M6.5 13.5l7-7M8.5 17l9-9M12 18.5l6-6" stroke="var(--violet)" strokeWidth="1.5" />
        </>
      );
  }
}

export function StateMark({ mark, size = 24 }: { mark: Mark; size?: number }) {
  return (
    <svg viewBox="0 0 24 24" width={size} height={size} aria-hidden="true" className="shrink-0">
      {mark.signed && (
        <rect x="1" y="1" width="22" height="22" fill="none" stroke="var(--ink)" strokeWidth="1.6" />
      )}
      {shape(mark)}
    </svg>
  );
}
