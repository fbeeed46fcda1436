import { expect, test } from "vitest";
import { saveInTurn, savesEnded } from "./saves";

test("saves of an exercise run one after another, and reading waits for the last one", async () => {
  const seen: string[] = [];
  const save = (name: string, time: number) => async () => {
    seen.push(`${name} begins`);
    await new Promise((done) => setTimeout(done, time));
    seen.push(`${name} ends`);
  };
  void saveInTurn("1/2", save("first", 20));
  void saveInTurn("1/2", save("second", 1));
  void saveInTurn("1/3", save("other", 1));
  await savesEnded("1/2");
  expect(seen.filter((s) => !s.startsWith("other"))).toEqual([
    "first begins",
    "first ends",
    "second begins",
    "second ends",
  ]);
  expect(seen.indexOf("other ends")).toBeLessThan(seen.indexOf("first ends"));
  await savesEnded("9/9");
});

test("a save that fails leaves room for the next one", async () => {
  const failing = saveInTurn("4/1", () => Promise.reject(new Error("offline")));
  await expect(failing).rejects.toThrow("offline");
  let kept = false;
  await saveInTurn("4/1", async () => {
    kept = true;
  });
  expect(kept).toBe(true);
});
