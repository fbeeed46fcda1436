import { describe, expect, it } from "vitest";
import { begun, placeOf, recorded, redone, undone } from "./history";

const draft = (title: string, ports: string[] = ["full"]) => ({
  title,
  ports: ports.map((name) => ({ name })),
});
type Draft = ReturnType<typeof draft>;

describe("the history of a draft", () => {
  it("goes back over typing in one step, and over each field by itself", () => {
    const base = draft("");
    let history = begun<Draft>(base);
    const step = (next: Draft, time: number) => {
      history = recorded(history, next, time);
    };
    step({ ...history.now, title: "G" }, 100);
    step({ ...history.now, title: "Ga" }, 200);
    step({ ...history.now, title: "Gate" }, 300);
    step({ ...history.now, ports: [{ name: "empty" }] }, 350);
    step({ ...history.now, title: "Gates" }, 400);
    expect(history.past).toHaveLength(3);
    history = undone(undone(history));
    expect(history.now).toEqual({ title: "Gate", ports: [{ name: "full" }] });
    history = undone(history);
    expect(history.now).toBe(base);
    expect(undone(history)).toBe(history);
    history = redone(redone(redone(history)));
    expect(history.now).toEqual({ title: "Gates", ports: [{ name: "empty" }] });
    expect(redone(history)).toBe(history);
  });

  it("begins a new step after a pause and after an undo, and forgets what was undone when something else is typed", () => {
    let history = recorded(begun(draft("a")), draft("ab"), 100);
    history = recorded(history, draft("abc"), 5000);
    expect(history.past).toHaveLength(2);
    history = undone(history);
    history = recorded(history, draft("abd"), 5100);
    expect(history.past.map((d) => d.title)).toEqual(["a", "ab"]);
    expect(history.future).toEqual([]);
  });

  it("takes what adds, removes or moves for a step of its own", () => {
    const a = { list: [1, 2], name: "x", other: "y" };
    expect(placeOf(a, { ...a, name: "z" })).toBe("/name");
    expect(placeOf(a, { ...a, list: [1, 2, 3] })).toBeNull();
    expect(placeOf(a, { ...a, name: "z", other: "w" })).toBeNull();
  });
});
