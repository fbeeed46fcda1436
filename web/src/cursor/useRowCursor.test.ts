import { expect, test } from "vitest";
import { parseRow, rowText } from "./useRowCursor";

test("a row's address is its input bits, first input first", () => {
  expect(rowText(6, 4)).toBe("0110");
  expect(parseRow("0110", 4)).toBe(6);
});

test("an address that names no row of this table means the first one", () => {
  expect(parseRow("01102", 5)).toBe(0);
  expect(parseRow("011", 4)).toBe(0);
  expect(parseRow(null, 4)).toBe(0);
});
