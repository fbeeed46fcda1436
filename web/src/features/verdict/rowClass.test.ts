import { expect, test } from "vitest";
import { classWords, holds, onRow } from "./rowClass";

// y = a b' + c, with row 7 free; the design forgot c.
const page = {
  inputs: ["a", "b", "c"],
  expected: [{ name: "y", values: "0101110-" }],
  actual: [{ name: "y", values: "00001100" }],
  terms: [
    { output: "y", cube: "10-", text: "a & ~b" },
    { output: "y", cube: "--1", text: "c" },
    { output: "z", cube: "---", text: "1" },
  ],
};

test("a cube holds the rows that agree with its literals", () => {
  expect(holds("10-", "101")).toBe(true);
  expect(holds("10-", "110")).toBe(false);
});

test("each output says which products cover a row, and whether it is wrong there", () => {
  const at = (row: number) => {
    const [y] = onRow(page, row);
    if (y === undefined) throw new Error("no output");
    return [y.wrong, classWords(y)];
  };
  expect(at(1)).toEqual([true, "should be 1: covered by c"]);
  expect(at(5)).toEqual([false, "should be 1: covered by a & ~b and by c"]);
  expect(at(0)).toEqual([false, "should be 0: no product covers it"]);
  expect(at(7)).toEqual([false, "may be either: a don\u2019t-care"]);
});
