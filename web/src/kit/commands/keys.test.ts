import { describe, expect, it } from "vitest";
import { fits, isPlain } from "./keys";

const press = (
  key: string,
  held: Partial<Record<"ctrlKey" | "altKey" | "metaKey" | "shiftKey", boolean>> = {},
) => ({
  key,
  ctrlKey: false,
  altKey: false,
  metaKey: false,
  shiftKey: false,
  ...held,
});

describe("keys of a command", () => {
  it("fit with exactly the held keys that are printed", () => {
    expect(fits("Ctrl+K", press("k", { ctrlKey: true }))).toBe(true);
    expect(fits("Ctrl+K", press("K", { metaKey: true }))).toBe(true);
    expect(fits("Ctrl+K", press("k"))).toBe(false);
    expect(fits("Ctrl+K", press("k", { ctrlKey: true, altKey: true }))).toBe(false);
    expect(fits("Ctrl+Z", press("Z", { ctrlKey: true, shiftKey: true }))).toBe(false);
    expect(fits("Ctrl+Shift+Z", press("Z", { metaKey: true, shiftKey: true }))).toBe(true);
    expect(fits("Alt+N", press("n", { altKey: true }))).toBe(true);
    expect(fits("?", press("?", { shiftKey: true }))).toBe(true);
    expect(fits("?", press("?", { ctrlKey: true }))).toBe(false);
    expect(fits("+", press("+"))).toBe(true);
  });

  it("are text in a field when nothing is held", () => {
    expect(["?", "+", "s"].every(isPlain)).toBe(true);
    expect(["Ctrl+K", "Alt+N"].some(isPlain)).toBe(false);
  });
});
