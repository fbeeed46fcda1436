import type { Lane, Stimulus } from "@/api/schema";

/** What a line of a stimulus begins with, and an example of what follows. */
export const KINDS: [string, string][] = [
  ["count", ""],
  ["clock", "20"],
  ["hold", "0"],
  ["pattern", "0 1 1*3 0"],
  ["edges", "0=0 40=1 60=0"],
];

export function splitLine(line: string): [string, string] {
  const [kind = "count", ...rest] = line.trim().split(/\s+/);
  return [kind, rest.join(" ")];
}

/** The stimulus with another line for an input. */
export function withLine(stimulus: Stimulus, input: string, line: string): Stimulus {
  const there = stimulus.inputs.some((i) => i.input === input);
  const inputs = there
    ? stimulus.inputs.map((i) => (i.input === input ? { input, line } : i))
    : [...stimulus.inputs, { input, line }];
  return { ...stimulus, inputs };
}

/** The edges of a lane of one bit after its level in the step around a time was turned over; times in femtoseconds. */
export function turnedOver(lane: Lane, time: number, stepNs: number): string {
  const step = stepNs * 1e6;
  const from = Math.floor(time / step) * step;
  const to = from + step;
  const levelAt = (t: number) => {
    let level = lane.values[0] ?? "0";
    lane.times.forEach((at, i) => {
      if (at <= t) level = lane.values[i] ?? level;
    });
    return level === "1" ? "1" : "0";
  };
  const turned = levelAt(from) === "1" ? "0" : "1";
  const points = [...new Set([0, ...lane.times, from, to])].sort((a, b) => a - b);
  const edges: string[] = [];
  let before = "";
  for (const at of points) {
    const level = at >= from && at < to ? turned : levelAt(at);
    if (level !== before) edges.push(`${Number((at / 1e6).toFixed(6))}=${level}`);
    before = level;
  }
  return `edges ${edges.join(" ")}`;
}
