import type { WaveLane } from "@/api/types";

export type Radix = "binary" | "unsigned" | "signed" | "hex";

/** The number of the last change at or before a time, by halving. */
export function indexAt(lane: WaveLane, time: number): number {
  let low = 0;
  let high = lane.times.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((lane.times[middle] ?? 0) <= time) low = middle;
    else high = middle - 1;
  }
  return low;
}

export function valueAt(lane: WaveLane, time: number): string {
  return lane.values[indexAt(lane, time)] ?? "";
}

/** The next change after a time, or the last one before it; the time itself when there is none. */
export function edge(lane: WaveLane, time: number, forward: boolean): number {
  const at = indexAt(lane, time);
  if (forward) return lane.times[at + 1] ?? time;
  const here = lane.times[at] ?? 0;
  return here < time ? here : (lane.times[Math.max(at - 1, 0)] ?? 0);
}

/** A value in words; unknown bits leave it in binary, or as x where nothing is known. */
export function show(value: string, radix: Radix): string {
  if (value.length === 1 || radix === "binary") return value.toLowerCase();
  if (/[^01]/.test(value)) {
    if (/^[XUW-]+$/.test(value)) return "x";
    if (/^Z+$/.test(value)) return "z";
    return value.toLowerCase();
  }
  const number = BigInt(`0b${value}`);
  if (radix === "hex") return number.toString(16).padStart(Math.ceil(value.length / 4), "0");
  if (radix === "signed" && value.startsWith("1")) return String(number - (1n << BigInt(value.length)));
  return String(number);
}

const UNITS: [string, number][] = [
  ["s", 1e15],
  ["ms", 1e12],
  ["us", 1e9],
  ["ns", 1e6],
  ["ps", 1e3],
  ["fs", 1],
];

/** A time in the largest unit that keeps it above one. */
export function timeText(femtoseconds: number): string {
  if (femtoseconds === 0) return "0 ns";
  const [unit, size] = UNITS.find(([, s]) => femtoseconds >= s) ?? ["fs", 1];
  return `${Number((femtoseconds / size).toPrecision(6))} ${unit}`;
}

/** A step of 1, 2 or 5 times a power of ten that makes at most so many marks. */
export function tickStep(span: number, marks: number): number {
  const rough = Math.max(span / Math.max(marks, 1), 1);
  const power = 10 ** Math.floor(Math.log10(rough));
  const factor = [1, 2, 5, 10].find((f) => f * power >= rough) ?? 10;
  return factor * power;
}
