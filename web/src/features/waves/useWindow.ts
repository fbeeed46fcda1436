import { useCallback, useRef, useState } from "react";

/** The stretch of time in sight and the time cursor. */
export function useWindow(end: number, first: [number, number] | null = null) {
  const whole = Math.max(end, 1);
  const [range, setRange] = useState<[number, number]>(() =>
    first !== null && first[1] <= whole ? first : [0, whole],
  );
  const [cursor, setCursor] = useState(0);
  const latest = useRef(0);
  const clamp = useCallback(
    (from: number, span: number): [number, number] => {
      const wide = Math.min(Math.max(span, 1_000), whole);
      const start = Math.min(Math.max(from, 0), whole - wide);
      return [start, start + wide];
    },
    [whole],
  );
  /** Zooms about a time. */
  const zoom = useCallback(
    (factor: number, about: number) =>
      setRange(([from, to]) => clamp(about - (about - from) * factor, (to - from) * factor)),
    [clamp],
  );
  const fit = useCallback(() => setRange([0, whole]), [whole]);
  const pan = useCallback(
    (part: number) => setRange(([from, to]) => clamp(from + (to - from) * part, to - from)),
    [clamp],
  );
  /** Moves the cursor and brings it into sight. */
  const move = useCallback(
    (time: number) => {
      const at = Math.min(Math.max(time, 0), whole);
      latest.current = at;
      setCursor(at);
      setRange(([from, to]) => (at < from || at > to ? clamp(at - (to - from) / 2, to - from) : [from, to]));
    },
    [whole, clamp],
  );
  /** Where the cursor is going, also before that is drawn: the next key goes on from there. */
  const now = useCallback(() => latest.current, []);
  /** Brings the stretch between two times into sight. */
  const between = useCallback(
    (a: number, b: number) => {
      const [low, high] = [Math.min(a, b), Math.max(a, b)];
      const margin = (high - low) * 0.05;
      setRange(clamp(low - margin, high - low + 2 * margin));
    },
    [clamp],
  );
  return { from: range[0], to: range[1], whole, cursor, now, zoom, fit, pan, move, between };
}
