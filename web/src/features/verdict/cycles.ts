import type { TraceStep } from "@/api/schema";

export interface Lane {
  /** The port. */
  name: string;
  kind: "input" | "output";
  /** A value a cycle, bits most significant first; of outputs what the design does. */
  actual: string[];
  /** What an output should be; empty for inputs. */
  expected: string[];
}

/** `q[3]` belongs to `q`. */
const portOf = (bit: string) => bit.split("[")[0] ?? bit;
const indexOf = (bit: string) => Number(/\[(-?\d+)\]/.exec(bit)?.[1] ?? 0);

function ports(bits: string[]): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const bit of bits) {
    const name = portOf(bit);
    found.set(name, [...(found.get(name) ?? []), bit]);
  }
  for (const list of found.values()) list.sort((a, b) => indexOf(b) - indexOf(a));
  return found;
}

/** Lanes of the cycles that lead to a difference: inputs, then outputs with what they should be. */
export function lanes(trace: TraceStep[]): Lane[] {
  const first = trace[0];
  if (first === undefined) return [];
  const value = (map: Record<string, string>, bits: string[]) => bits.map((b) => map[b] ?? "").join("");
  const inputs = [...ports(Object.keys(first.inputs))].map(([name, bits]) => ({
    name,
    kind: "input" as const,
    actual: trace.map((s) => value(s.inputs, bits)),
    expected: [],
  }));
  const outputs = [...ports(Object.keys(first.actual))].map(([name, bits]) => ({
    name,
    kind: "output" as const,
    actual: trace.map((s) => value(s.actual, bits)),
    expected: trace.map((s) => value(s.expected, bits)),
  }));
  return [...inputs, ...outputs];
}

/** Is the value wrong? Bits that don't matter never are. */
export function isWrong(actual: string, expected: string): boolean {
  return [...expected].some((bit, i) => bit !== "-" && bit !== "" && bit !== actual[i]);
}
