import { describe, expect, it } from "vitest";
import type { Lane } from "@/api/schema";
import { splitLine, turnedOver, withLine } from "./stimulus";

const lane: Lane = {
  role: "input",
  scopes: ["stimulus"],
  name: "a",
  range: "",
  width: 1,
  literals: [],
  times: [0, 40e6],
  values: ["0", "1"],
  differs: [],
};

describe("a lane that is drawn in", () => {
  it("is turned over for a step", () => {
    expect(turnedOver(lane, 25e6, 10)).toBe("edges 0=0 20=1 30=0 40=1");
    expect(turnedOver(lane, 3e6, 10)).toBe("edges 0=1 10=0 40=1");
  });

  it("joins what stands beside it", () => {
    expect(turnedOver(lane, 35e6, 10)).toBe("edges 0=0 30=1");
    expect(turnedOver(lane, 41e6, 10)).toBe("edges 0=0 50=1");
  });
});

describe("lines", () => {
  it("are a kind and the rest", () => {
    expect(splitLine("pattern 0  1 repeat")).toEqual(["pattern", "0 1 repeat"]);
    expect(splitLine("count")).toEqual(["count", ""]);
  });

  it("take the place of the one before", () => {
    const stimulus = { length_ns: 80, step_ns: 10, inputs: [{ input: "a", line: "count" }] };
    expect(withLine(stimulus, "a", "hold 1").inputs).toEqual([{ input: "a", line: "hold 1" }]);
    expect(withLine(stimulus, "b", "hold 1").inputs.length).toBe(2);
  });
});
