import { describe, expect, it } from "vitest";
import type { WaveLane } from "@/api/types";
import { edge, indexAt, show, tickStep, timeText, valueAt } from "./model";

const lane: WaveLane = {
  scopes: ["t"],
  name: "q",
  range: "[3:0]",
  width: 4,
  times: [0, 10, 25],
  values: ["XXXX", "0101", "1010"],
};

describe("a lane", () => {
  it("holds a value from its change on", () => {
    expect([0, 9, 10, 24, 25, 99].map((t) => indexAt(lane, t))).toEqual([0, 0, 1, 1, 2, 2]);
    expect(valueAt(lane, 12)).toBe("0101");
  });

  it("is walked from edge to edge, and stays at its ends", () => {
    expect(edge(lane, 0, true)).toBe(10);
    expect(edge(lane, 10, true)).toBe(25);
    expect(edge(lane, 99, true)).toBe(99);
    expect(edge(lane, 12, false)).toBe(10);
    expect(edge(lane, 10, false)).toBe(0);
  });
});

describe("values", () => {
  it("are shown in the radix chosen", () => {
    expect(show("1010", "unsigned")).toBe("10");
    expect(show("1010", "signed")).toBe("-6");
    expect(show("00101010", "hex")).toBe("2a");
    expect(show("1010", "binary")).toBe("1010");
  });

  it("show unknown bits as such", () => {
    expect(show("XXXX", "unsigned")).toBe("x");
    expect(show("1X10", "hex")).toBe("1x10");
    expect(show("ZZ", "hex")).toBe("z");
  });

  it("are exact beyond what a number of the browser holds", () => {
    expect(show("1".repeat(64), "unsigned")).toBe("18446744073709551615");
  });
});

describe("times", () => {
  it("have a unit", () => {
    expect(timeText(0)).toBe("0 ns");
    expect(timeText(15_000_000)).toBe("15 ns");
    expect(timeText(1_500_000_000)).toBe("1.5 us");
  });

  it("are marked at round steps", () => {
    expect(tickStep(100, 10)).toBe(10);
    expect(tickStep(130, 10)).toBe(20);
    expect(tickStep(5_000_000, 8)).toBe(1_000_000);
  });
});
