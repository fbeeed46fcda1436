import { expect, test } from "vitest";
import type { TraceStep } from "@/api/schema";
import { isWrong, lanes } from "./cycles";

const step = (cycle: number, en: string, q: string, wanted: string): TraceStep => ({
  cycle,
  inputs: { en },
  actual: { "q[0]": q[1] ?? "", "q[1]": q[0] ?? "" },
  expected: { "q[0]": wanted[1] ?? "", "q[1]": wanted[0] ?? "" },
});

test("bits of a port are one lane, the most significant first", () => {
  const found = lanes([step(0, "1", "10", "10"), step(1, "0", "11", "01")]);
  expect(found.map((l) => l.name)).toEqual(["en", "q"]);
  expect(found[1]?.actual).toEqual(["10", "11"]);
  expect(found[1]?.expected).toEqual(["10", "01"]);
});

test("a don't-care is never wrong", () => {
  expect(isWrong("X1", "-1")).toBe(false);
  expect(isWrong("X1", "01")).toBe(true);
  expect(isWrong("1", "")).toBe(false);
});
