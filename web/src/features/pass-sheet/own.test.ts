import { expect, test } from "vitest";
import type { ExerciseHead } from "@/api/schema";
import { dueWords, ownOrder } from "./OwnList";

const head = (id: number, due: number | null): ExerciseHead => ({
  id,
  title: `E${id}`,
  due_at: due,
  release_at: null,
  state: "published",
});

test("what is due next stands first, what is over or never due keeps its order behind", () => {
  const list = [head(1, null), head(2, 500), head(3, 50), head(4, 300)];
  expect(ownOrder(list, 100).map((k) => list[k]?.id)).toEqual([4, 2, 1, 3]);
});

test("what is over says so", () => {
  expect(dueWords(null, 100)).toBe("");
  expect(dueWords(50, 100)).toMatch(/^was due /);
  expect(dueWords(150, 100)).toMatch(/^due within a day/);
  expect(dueWords(100 + 3 * 86_400, 100)).toMatch(/^due /);
});
