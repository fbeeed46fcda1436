import { describe, expect, it } from "vitest";
import {
  edge,
  frequencyText,
  indexAt,
  nextDifference,
  rhythm,
  type Steps,
  segments,
  show,
  tickStep,
  timeText,
  valueAt,
} from "./model";

const lane: Steps = {
  width: 4,
  literals: [],
  times: [0, 10, 25],
  values: ["XXXX", "0101", "1010"],
  differs: [],
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

describe("readings", () => {
  // 30 ns high, 70 ns low, from 10 ns on.
  const clock: Steps = {
    width: 1,
    literals: [],
    times: [0, 10, 40, 110, 140, 210, 240].map((t) => t * 1e6),
    values: ["0", "1", "0", "1", "0", "1", "0"],
    differs: [],
  };

  it("of a repeating lane are over whole periods", () => {
    expect(rhythm(clock, 0, 250e6)).toEqual({ period: 100e6, duty: 0.3 });
    expect(frequencyText(100e6)).toBe("10 MHz");
    expect(rhythm(clock, 0, 100e6)).toBeNull();
  });

  it("go from difference to difference and begin anew", () => {
    const wrong: Steps = {
      ...lane,
      differs: [
        { from: 5, to: 8 },
        { from: 20, to: 30 },
      ],
    };
    expect([0, 5, 20].map((t) => nextDifference([lane, wrong], t))).toEqual([5, 20, 5]);
    expect(nextDifference([lane], 0)).toBeNull();
  });

  it("of a digit are its segments", () => {
    // Common practice: 1 lights b and c.
    const one = [false, true, true, false, false, false, false];
    expect(segments("0110000", "digit")).toEqual(one);
    expect(segments("0000110", "digit-g")).toEqual(one);
    expect(segments("1001111", "digit-low")).toEqual(one);
    expect(segments("X110000", "digit")).toBeNull();
  });

  it("of texts and enumerations are words", () => {
    expect(show("0100100001101001", "character")).toBe("“Hi”");
    expect(show("01", "name", ["idle", "run"])).toBe("run");
    expect(show("--", "unsigned")).toBe("any");
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
