import { describe, expect, it } from "vitest";
import type { CodeEntry } from "@/api/schema";
import { matching } from "./search";

const entry = (code: string, means: string, wrong: string): CodeEntry => ({
  code,
  stage: "language",
  severity: "stop",
  means,
  example: [{ language: "verilog", wrong, right: "" }],
});
const entries = [
  entry("missing-semicolon", "A `;` is missing.", "assign y = a"),
  entry("inferred-latch", "A path leaves it unassigned.", "if (a) y = b;"),
];

describe("the search for codes", () => {
  it("wants every word, wherever it stands", () => {
    expect(matching(entries, "missing assign").map((e) => e.code)).toEqual(["missing-semicolon"]);
    expect(matching(entries, "latch").map((e) => e.code)).toEqual(["inferred-latch"]);
    expect(matching(entries, "latch missing")).toEqual([]);
  });

  it("finds everything for an empty question", () => {
    expect(matching(entries, "  ")).toHaveLength(2);
  });
});
