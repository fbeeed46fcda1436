import { expect, test } from "vitest";
import { problemOf, withFiles } from "./model";

const file = (name: string, size = 10) => new File(["x".repeat(size)], name);

test("a CSV is the wiring, and there is one wiring only", () => {
  const chosen = withFiles([], [file("a.v"), file("w.csv"), file("other.CSV")]);
  expect(chosen.map((c) => [c.name, c.kind])).toEqual([
    ["a.v", "design"],
    ["other.CSV", "wiring"],
  ]);
});

test("a file of the same name replaces the earlier one", () => {
  expect(withFiles(withFiles([], [file("a.v", 1)]), [file("a.v", 2)])[0]?.content.size).toBe(2);
});

test("without a design, or too large, nothing is sent", () => {
  expect(problemOf(withFiles([], [file("w.csv")]))).toContain("design file");
  expect(problemOf(withFiles([], [file("a.v", 5_000_000)]))).toContain("4.8 MiB");
  expect(problemOf(withFiles([], [file("a.v")]))).toBeNull();
});
