import type { Lane } from "@/api/schema";

export type Radix =
  | "binary"
  | "unsigned"
  | "signed"
  | "hex"
  | "character"
  | "name"
  | "digit"
  | "digit-low"
  | "digit-g"
  | "digit-g-low";

export const RADIXES: [Radix, string][] = [
  ["unsigned", "unsigned"],
  ["signed", "signed"],
  ["hex", "hex"],
  ["binary", "binary"],
  ["character", "character"],
  ["name", "name"],
  ["digit", "digit, segments a to g"],
  ["digit-g", "digit, segments g to a"],
  ["digit-low", "digit a to g, lit at 0"],
  ["digit-g-low", "digit g to a, lit at 0"],
];

/** The ways in which a lane can be written. */
export function radixesOf(lane: { width: number; literals: string[] }): [Radix, string][] {
  if (lane.width === 1 && lane.literals.length === 0) return [];
  return RADIXES.filter(([radix]) => {
    if (radix === "name") return lane.literals.length > 0;
    if (radix === "character") return lane.width % 8 === 0;
    if (radix.startsWith("digit")) return lane.width === 7 || lane.width === 8;
    return true;
  });
}

/** A signal over time: what it became and when. */
export type Steps = Pick<Lane, "width" | "literals" | "times" | "values" | "differs">;

/** The number of the last change at or before a time, by halving. */
export function indexAt(lane: Steps, time: number): number {
  let low = 0;
  let high = lane.times.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((lane.times[middle] ?? 0) <= time) low = middle;
    else high = middle - 1;
  }
  return low;
}

export function valueAt(lane: Steps, time: number): string {
  return lane.values[indexAt(lane, time)] ?? "";
}

/** The next change after a time, or the last one before it; the time itself when there is none. */
export function edge(lane: Steps, time: number, forward: boolean): number {
  const at = indexAt(lane, time);
  if (forward) return lane.times[at + 1] ?? time;
  const here = lane.times[at] ?? 0;
  return here < time ? here : (lane.times[Math.max(at - 1, 0)] ?? 0);
}

/** The beginning of the next stretch that is not as expected, in any of the lanes; null when there is none. */
export function nextDifference(lanes: Steps[], time: number): number | null {
  const starts = lanes.flatMap((l) => l.differs.map((s) => s.from)).sort((a, b) => a - b);
  return starts.find((t) => t > time) ?? starts[0] ?? null;
}

function characters(value: string): string {
  let text = "";
  for (let at = 0; at < value.length; at += 8) {
    const code = Number.parseInt(value.slice(at, at + 8), 2);
    text += code >= 32 && code < 127 ? String.fromCharCode(code) : "·";
  }
  return `“${text}”`;
}

/** A value in words; unknown bits leave it in binary, or as x where nothing is known. */
export function show(value: string, radix: Radix, literals: string[] = []): string {
  if (literals.length > 0 && radix === "name" && !/[^01]/.test(value)) {
    return literals[Number.parseInt(value, 2)] || value;
  }
  if (value.length === 1 || radix === "binary" || radix.startsWith("digit")) return value.toLowerCase();
  if (/[^01]/.test(value)) {
    if (/^[XUW]+$/.test(value)) return "x";
    if (/^-+$/.test(value)) return "any";
    if (/^Z+$/.test(value)) return "z";
    return value.toLowerCase();
  }
  if (radix === "character") return characters(value);
  const number = BigInt(`0b${value}`);
  if (radix === "hex") return number.toString(16).padStart(Math.ceil(value.length / 4), "0");
  if (radix === "signed" && value.startsWith("1")) return String(number - (1n << BigInt(value.length)));
  return String(number);
}

/** Which segments of a digit light, from a to g; null when that isn't known. */
export function segments(value: string, radix: Radix): boolean[] | null {
  const bits =
    value.length === 8 ? (radix.startsWith("digit-g") ? value.slice(1) : value.slice(0, 7)) : value;
  if (/[^01]/.test(bits)) return null;
  const order = radix.startsWith("digit-g") ? [...bits].reverse() : [...bits];
  return order.map((bit) => (bit === "1") !== radix.endsWith("low"));
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
  const size = Math.abs(femtoseconds);
  const [unit, of] = UNITS.find(([, s]) => size >= s) ?? ["fs", 1];
  return `${Number((femtoseconds / of).toPrecision(6))} ${unit}`;
}

/** The frequency of a period in femtoseconds. */
export function frequencyText(period: number): string {
  const hertz = 1e15 / period;
  const [unit, of] = [["GHz", 1e9] as const, ["MHz", 1e6] as const, ["kHz", 1e3] as const].find(
    ([, s]) => hertz >= s,
  ) ?? ["Hz", 1];
  return `${Number((hertz / of).toPrecision(5))} ${unit}`;
}

/** Period and share of high time of a lane between two times, over whole periods; null without two rising edges. */
export function rhythm(lane: Steps, from: number, to: number): { period: number; duty: number } | null {
  const rises: number[] = [];
  for (let at = 1; at < lane.times.length; at++) {
    const time = lane.times[at] ?? 0;
    if (time > to) break;
    if (time >= from && lane.values[at] === "1" && lane.values[at - 1] === "0") rises.push(time);
  }
  const [first, last] = [rises[0], rises.at(-1)];
  if (first === undefined || last === undefined || rises.length < 2) return null;
  let high = 0;
  for (let at = 0; at < lane.times.length; at++) {
    const start = Math.max(lane.times[at] ?? 0, first);
    const end = Math.min(lane.times[at + 1] ?? last, last);
    if (lane.values[at] === "1" && end > start) high += end - start;
  }
  return { period: (last - first) / (rises.length - 1), duty: high / (last - first) };
}

/** A step of 1, 2 or 5 times a power of ten that makes at most so many marks. */
export function tickStep(span: number, marks: number): number {
  const rough = Math.max(span / Math.max(marks, 1), 1);
  const power = 10 ** Math.floor(Math.log10(rough));
  const factor = [1, 2, 5, 10].find((f) => f * power >= rough) ?? 10;
  return factor * power;
}
