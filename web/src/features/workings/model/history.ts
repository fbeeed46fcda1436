/** Everything that was typed or chosen since the page was opened, to go back and forth in. */
export interface History<T> {
  past: T[];
  now: T;
  future: T[];
  /** Where the newest change was made, and when; typing on there belongs to the same step. */
  place: string | null;
  time: number;
}

/** Typing that goes on within this many milliseconds is one step. */
const SAME_STEP = 1000;

export function begun<T>(now: T): History<T> {
  return { past: [], now, future: [], place: null, time: 0 };
}

/** The one text in which two values differ, as a path of keys; null when they differ in more or in something else. */
export function placeOf(a: unknown, b: unknown, path = ""): string | null {
  if (a === b) return null;
  if (typeof a === "string" && typeof b === "string") return path;
  if (typeof a !== "object" || typeof b !== "object" || a === null || b === null) return null;
  const [left, right] = [Object.entries(a), Object.entries(b)];
  if (Array.isArray(a) !== Array.isArray(b) || left.length !== right.length) return null;
  const changed = right.filter(([key, value]) => (a as Record<string, unknown>)[key] !== value);
  const [only, second] = changed;
  if (only === undefined || second !== undefined) return null;
  return placeOf((a as Record<string, unknown>)[only[0]], only[1], `${path}/${only[0]}`);
}

/** One more change: a step of its own, or more of the one before. */
export function recorded<T>(history: History<T>, next: T, time: number): History<T> {
  const place = placeOf(history.now, next);
  const goesOn = place !== null && place === history.place && time - history.time < SAME_STEP;
  const past = goesOn ? history.past : [...history.past, history.now];
  return { past, now: next, future: [], place, time };
}

/** One step back; the same when there is none. */
export function undone<T>(history: History<T>): History<T> {
  const before = history.past.at(-1);
  if (before === undefined) return history;
  const future = [history.now, ...history.future];
  return { past: history.past.slice(0, -1), now: before, future, place: null, time: 0 };
}

/** One step forth again. */
export function redone<T>(history: History<T>): History<T> {
  const [next, ...future] = history.future;
  if (next === undefined) return history;
  return { past: [...history.past, history.now], now: next, future, place: null, time: 0 };
}
