import { describe, expect, it } from "vitest";
import { cellOf, covers, mapPlan, mapsOf, rowAt, runs } from "./map";

describe("Karnaugh maps", () => {
  it("holds every row in exactly one cell, neighbours differing in one input", () => {
    for (const inputs of [1, 2, 3, 4, 5, 6]) {
      const plan = mapPlan(inputs);
      if (plan === null) throw new Error("a plan is there");
      const seen = new Set<number>();
      for (let row = 0; row < 2 ** inputs; row++) {
        const { map, r, c } = cellOf(plan, row);
        expect(rowAt(plan, map, r, c)).toBe(row);
        seen.add(row);
        const right = rowAt(plan, map, r, (c + 1) % 2 ** plan.across.length);
        const differing = (row ^ right).toString(2).replaceAll("0", "").length;
        expect(differing).toBe(1);
      }
      expect(seen.size).toBe(2 ** inputs);
    }
    expect(mapPlan(7)).toBeNull();
  });

  it("has the usual order of a map of four inputs", () => {
    const plan = mapPlan(4);
    if (plan === null) throw new Error("a plan is there");
    const first = [0, 1, 2, 3].map((c) => rowAt(plan, 0, 0, c));
    const last = [0, 1, 2, 3].map((c) => rowAt(plan, 0, 3, c));
    // As in every textbook: 0 1 3 2 on top, 8 9 11 10 below (common practice).
    expect(first).toEqual([0, 1, 3, 2]);
    expect(last).toEqual([8, 9, 11, 10]);
  });

  it("opens a group that goes over the edge", () => {
    expect(runs("-0-0", [2, 3])).toEqual([
      { start: 0, length: 1, openBefore: true, openAfter: false },
      { start: 3, length: 1, openBefore: false, openAfter: true },
    ]);
    expect(runs("--1-", [2, 3])).toEqual([{ start: 2, length: 2, openBefore: false, openAfter: false }]);
    expect(runs("----", [2, 3])).toEqual([{ start: 0, length: 4, openBefore: false, openAfter: false }]);
  });

  it("knows which maps of a stack a group reaches", () => {
    const plan = mapPlan(5);
    if (plan === null) throw new Error("a plan is there");
    expect(mapsOf(plan, "1--01")).toEqual([1]);
    expect(mapsOf(plan, "---01")).toEqual([0, 1]);
    expect(covers("1--01", 0b11101)).toBe(true);
    expect(covers("1--01", 0b01101)).toBe(false);
  });
});
