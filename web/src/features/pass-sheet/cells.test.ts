import { describe, expect, it } from "vitest";
import { HEAD, moved } from "./cells";

const from =
  (line: number, column: number) =>
  (key: string, ctrl = false) =>
    moved({ line, column }, key, ctrl, 30, 4);

describe("keys on the pass sheet", () => {
  it("go on by one and stay within the sheet, with the heads above the first line", () => {
    expect(from(0, 0)("ArrowUp")).toEqual({ line: HEAD, column: 0 });
    expect(from(HEAD, 2)("ArrowUp")).toEqual({ line: HEAD, column: 2 });
    expect(from(HEAD, 2)("ArrowDown")).toEqual({ line: 0, column: 2 });
    expect(from(29, 3)("ArrowDown")).toEqual({ line: 29, column: 3 });
    expect(from(29, 3)("ArrowRight")).toEqual({ line: 29, column: 3 });
    expect(from(5, 0)("ArrowLeft")).toEqual({ line: 5, column: 0 });
  });

  it("leap by ten, to the ends of the line and to the ends of the sheet", () => {
    expect(from(4, 1)("PageUp")).toEqual({ line: 0, column: 1 });
    expect(from(HEAD, 1)("PageUp")).toEqual({ line: HEAD, column: 1 });
    expect(from(25, 1)("PageDown")).toEqual({ line: 29, column: 1 });
    expect(from(7, 2)("Home")).toEqual({ line: 7, column: 0 });
    expect(from(7, 2)("End")).toEqual({ line: 7, column: 3 });
    expect(from(7, 2)("Home", true)).toEqual({ line: HEAD, column: 0 });
    expect(from(7, 2)("End", true)).toEqual({ line: 29, column: 3 });
  });

  it("leave other keys to the browser, and an empty sheet alone", () => {
    expect(from(1, 1)("Enter")).toBeNull();
    expect(from(1, 1)("a")).toBeNull();
    expect(moved({ line: 0, column: 0 }, "ArrowDown", false, 0, 2)).toEqual({ line: HEAD, column: 0 });
  });
});
