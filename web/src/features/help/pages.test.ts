import { describe, expect, it } from "vitest";
import { helpFor } from "./pages";

describe("help of a page", () => {
  it("is that of the address, the narrower one first", () => {
    const titles = ["/courses/3", "/courses/3/exercises/7", "/courses/3/exercises/7/pad", "/account"].map(
      (path) => helpFor(path).title,
    );
    expect(titles).toEqual(["Pass sheet", "Exercise", "Scratch pad", "Zesty Gate"]);
    expect(helpFor("/courses/3/exercises/7/key").title).toBe("Paper");
    expect(helpFor("/courses/3/hand-ins/70/report").title).toBe("Hand-in");
  });

  it("is five whole sentences everywhere", () => {
    for (const path of ["/courses/1", "/courses/1/people", "/courses/1/tools", "/help/findings", "/nowhere"])
      for (const sentence of helpFor(path).sentences) expect(sentence).toMatch(/^[A-Z].*\.$/);
  });
});
