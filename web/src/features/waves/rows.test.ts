import { describe, expect, it } from "vitest";
import type { Lane } from "@/api/schema";
import { combined, drawn, moved, type Row, rowsFrom, sightFrom, split, usualRows } from "./rows";

function lane(name: string, role: Lane["role"], values: string[], scopes = ["stimulus"]): Lane {
  const width = values[0]?.length ?? 1;
  return {
    role,
    scopes,
    name,
    range: "",
    width,
    literals: [],
    times: values.map((_, i) => i * 10),
    values,
    differs: [],
  };
}

const LANES = [
  lane("a", "input", ["0", "1", "1"]),
  lane("b", "input", ["0", "0", "1"]),
  lane("q", "output", ["01", "10", "11"]),
  lane("q", "expected", ["01", "11", "11"], []),
  lane("n", "inner", ["0", "1", "0"], ["stimulus", "dut"]),
];

const titles = (rows: Row[]) => drawn(rows, LANES).map((d) => d.title);

describe("the rows of the view", () => {
  it("are the ports at first, what is expected under its output", () => {
    expect(usualRows(LANES).length).toBe(4);
    expect(drawn(usualRows(LANES), LANES).map((d) => d.role)).toEqual([
      "input",
      "input",
      "output",
      "expected",
    ]);
  });

  it("are moved up and down", () => {
    const rows = usualRows(LANES).slice(0, 3);
    expect(titles(moved(rows, 0, 2))).toEqual(["b", "a", "q"]);
    expect(titles(moved(rows, 2, 0))).toEqual(["q", "a", "b"]);
  });

  it("are combined to a vector, the upper one the most significant, and taken apart again", () => {
    const rows = usualRows(LANES).slice(0, 2);
    const bus = combined(rows, [0, 1], LANES);
    expect(titles(bus)).toEqual(["a&b"]);
    expect(drawn(bus, LANES)[0]?.steps).toMatchObject({
      width: 2,
      times: [0, 10, 20],
      values: ["00", "10", "11"],
    });
    expect(titles(split(bus, 0, LANES))).toEqual(["a", "b"]);
  });

  it("show the bits of a vector", () => {
    const rows = split([{ kind: "lane", key: "stimulus.q" }], 0, LANES);
    const bits = drawn(rows, LANES);
    expect(bits.map((d) => d.title)).toEqual(["q.1", "q.0"]);
    expect(bits.map((d) => d.steps?.values)).toEqual([
      ["0", "1"],
      ["1", "0", "1"],
    ]);
  });

  it("fold under a heading", () => {
    const heading: Row = { kind: "heading", title: "Inputs", folded: true };
    const rest: Row = { kind: "heading", title: "Outputs" };
    const rows = [heading, ...usualRows(LANES).slice(0, 2), rest, ...usualRows(LANES).slice(2, 3)];
    expect(titles(rows)).toEqual(["Inputs", "Outputs", "q"]);
  });

  it("come back as they were kept, and as usual when nothing of that is there", () => {
    const kept: Row[] = [{ kind: "lane", key: "stimulus.dut.n" }];
    expect(rowsFrom(JSON.stringify(kept), LANES)).toEqual(kept);
    const whole = JSON.stringify({ rows: kept, range: [20, 60], marks: [25, null] });
    expect(rowsFrom(whole, LANES)).toEqual(kept);
    expect(sightFrom(whole)).toEqual({ range: [20, 60], marks: [25, null] });
    for (const text of [null, "no json", "[1]", '[{"kind":"lane","key":"gone"}]']) {
      expect(rowsFrom(text, LANES)).toEqual(usualRows(LANES));
      expect(sightFrom(text)).toEqual({ range: null, marks: [null, null] });
    }
    const odd = '{"rows":[],"range":[60,20],"marks":["soon",-4]}';
    expect(sightFrom(odd)).toEqual({ range: null, marks: [null, null] });
  });
});
