import type { ReactNode } from "react";

/** How a hand-in stands, as a shape that reads without colour. */
export interface Mark {
  state: string;
  passed: number;
  total: number;
  stale: boolean;
  signed: boolean;
  /** Handed in after it was due. */
  late?: boolean;
  /** Staff decided otherwise than the check. */
  by_hand?: boolean;
}

/** The mark in words, for assistive technology and tooltips. */
export function markWords(mark: Mark): string {
  const base: Record<string, string> = {
    passed: "passed",
    partly: `partly, ${mark.passed} of ${mark.total} right`,
    failed: "failed",
    waiting: "waiting for its check",
    cannot_tell: "can't tell",
    held_back: "handed in, the verdict is shown later",
  };
  const extra = [
    mark.by_hand ? "decided by hand" : "",
    mark.stale ? "stale" : "",
    mark.signed ? "signed off" : "",
    mark.late ? "late" : "",
  ].filter((t) => t !== "");
  return [base[mark.state] ?? mark.state, ...extra].join(", ");
}

/** Where the four lamps of the bar stand. */
const LAMPS = [7, 17, 27, 37];

/** How many lamps are lit: quarters of the rows that are right, one at least when any is. */
function lit({ passed, total }: Mark): number {
  if (total === 0 || passed === 0) return 0;
  return Math.max(1, Math.floor((4 * passed) / total));
}

function Lamp({ at, colour, filled }: { at: number; colour: string; filled: boolean }) {
  return <circle cx={at} cy="13" r="3.6" fill={filled ? colour : "none"} stroke={colour} strokeWidth="1.6" />;
}

function Hatched({ at }: { at: number }) {
  return (
    <>
      <Lamp at={at} colour="var(--violet)" filled={false} />
      <path d={`M${at - 2.6} 14.6l4.2-4.2M${at - 1.2} 16l3.8-3.8`} stroke="var(--violet)" strokeWidth="1.2" />
    </>
  );
}

function shape(mark: Mark): ReactNode {
  // A stale bar has lost its last lamp.
  const places = mark.stale ? LAMPS.slice(0, 3) : LAMPS;
  const lamps = (colour: string, on: number) =>
    places.map((at, k) => <Lamp key={at} at={at} colour={colour} filled={k < on} />);
  switch (mark.state) {
    case "passed":
      return (
        <>
          <path d={mark.stale ? "M3 5.5h28" : "M3 5.5h38"} stroke="var(--leaf)" strokeWidth="1.4" />
          {lamps("var(--leaf)", 4)}
          {!mark.stale && (
            <path d="M43.5 13.2l2.3 2.6 4-5.4" fill="none" stroke="var(--leaf)" strokeWidth="2" />
          )}
        </>
      );
    case "partly":
      return lamps("var(--amber)", lit(mark));
    case "failed":
      return (
        <>
          {lamps("var(--ink-soft)", 0)}
          <path d={mark.stale ? "M2 18.5L32 7.5" : "M2 18.5L42 7.5"} stroke="var(--rust)" strokeWidth="2.2" />
        </>
      );
    case "waiting":
    case "held_back":
      return places.map((at) => <circle key={at} cx={at} cy="13" r="1.5" fill="var(--ink-soft)" />);
    default:
      return places.map((at) => <Hatched key={at} at={at} />);
  }
}

/** A bar of four lamps, like the lamps of a board; `size` is its height. */
export function StateMark({ mark, size = 24 }: { mark: Mark; size?: number }) {
  // No wider than what is in it: what stands beside it needs the room.
  const end = mark.signed ? 55 : mark.state === "passed" ? 51 : 43;
  const width = end + 3 + (mark.late ? 7 : 0);
  return (
    <svg
      viewBox={`-3 0 ${width} 24`}
      width={(size * width) / 24}
      height={size}
      aria-hidden="true"
      className="shrink-0"
    >
      {mark.signed && (
        <>
          <rect x="-2.4" y="0.6" width="56.8" height="22.8" fill="none" stroke="var(--ink)" strokeWidth="1" />
          <rect x="0" y="2.6" width="52" height="18.8" fill="none" stroke="var(--ink)" strokeWidth="0.8" />
        </>
      )}
      {shape(mark)}
      {mark.late && (
        <path
          d={`M${end + 2} 6.5v5h4`}
          fill="none"
          stroke="var(--rust)"
          strokeWidth="1.6"
          strokeLinecap="round"
        />
      )}
      {mark.stale && <path d="M33 20l3-15" stroke="var(--ink-soft)" strokeWidth="1.4" />}
    </svg>
  );
}
