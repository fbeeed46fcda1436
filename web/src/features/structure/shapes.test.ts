import { expect, test } from "vitest";
import type { DrawnBlock } from "@/api/schema";
import { between, body, nameOf, neighbour, stub, tableRows } from "./shapes";

function gate(kind: string, x: number, y: number, inverted = false): DrawnBlock {
  const pins = [0, 1].map((k) => ({ x, y: y + 8 + 16 * k, wire: k, input: true, inverted: false, name: "" }));
  const out = { x: x + 36, y: y + 16, wire: 2, input: false, inverted, name: "" };
  return {
    kind,
    label: "",
    x,
    y,
    width: 36,
    height: 32,
    pins: [...pins, out],
    file: null,
    line: null,
    table: null,
  };
}

test("a bubble at the output makes the inverse gate, and takes room from the body", () => {
  expect(nameOf(gate("and", 0, 0, true))).toBe("NAND");
  expect(nameOf(gate("or", 0, 0, true))).toBe("NOR");
  expect(nameOf(gate("xor", 0, 0))).toBe("XOR");
  expect(body(gate("and", 0, 0))).toEqual([0, 36]);
  expect(body(gate("and", 0, 0, true))).toEqual([0, 29]);
});

test("a wire is led on to the curved back of an OR and not of an AND", () => {
  const or = gate("or", 10, 0);
  const and = gate("and", 10, 0);
  expect(and.pins.map((p) => stub(and, p))).toEqual([null, null, null]);
  for (const pin of or.pins.filter((p) => p.input)) {
    const line = stub(or, pin);
    expect(line?.[0]).toBe(pin.x);
    expect(line?.[1]).toBeGreaterThan(pin.x);
  }
});

test("arrow keys go to the nearest symbol in their direction and stay where there is none", () => {
  const blocks = [gate("and", 0, 0), gate("or", 100, 0), gate("or", 100, 200), gate("xor", 200, 10)];
  expect(neighbour(blocks, 0, 1, 0)).toBe(1);
  expect(neighbour(blocks, 1, 0, 1)).toBe(2);
  expect(neighbour(blocks, 1, 1, 0)).toBe(3);
  expect(neighbour(blocks, 0, -1, 0)).toBe(0);
});

test("the rows of a table count from the first input down", () => {
  expect(tableRows("0110")).toEqual([
    { inputs: "00", output: "0" },
    { inputs: "01", output: "1" },
    { inputs: "10", output: "1" },
    { inputs: "11", output: "0" },
  ]);
});

test("a band leaves out the branches of a wire that lead elsewhere", () => {
  const fork = [
    [0, 0, 10, 0],
    [10, 0, 10, 20],
    [10, 0, 30, 0],
    [10, 20, 30, 20],
  ];
  expect(between(fork, new Set(["0 0", "30 20"]))).toEqual([fork[0], fork[1], fork[3]]);
  expect(between(fork, new Set(["0 0", "30 0", "30 20"]))).toEqual(fork);
  expect(between(fork, new Set())).toEqual([]);
});
