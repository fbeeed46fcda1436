import { describe, expect, it } from "vitest";
import type { FixInfo } from "@/api/schema";
import { applyFix, changedLines } from "./marks";

function fix(line: number, column: number, endLine: number, endColumn: number, text: string): FixInfo {
  return { label: "Write it", file: "m.v", line, column, end_line: endLine, end_column: endColumn, text };
}

describe("fixes", () => {
  it("insert where nothing is replaced", () => {
    expect(applyFix("assign y = a\nendmodule\n", fix(1, 13, 1, 13, ";"))).toBe("assign y = a;\nendmodule\n");
  });

  it("replace a stretch and count characters, not code units", () => {
    expect(applyFix("// 🍋 == b\n", fix(1, 6, 1, 8, "="))).toBe("// 🍋 = b\n");
  });

  it("show the lines that change, before and after", () => {
    const lines = changedLines("a\nb c\nd\n", fix(2, 2, 2, 2, ";"));
    expect(lines).toEqual({ line: 2, before: ["b c"], after: ["b; c"] });
  });

  it("show lines that a fix adds", () => {
    expect(changedLines("x\n", fix(1, 1, 1, 1, "use p;\n")).after).toEqual(["use p;", "x"]);
  });
});
