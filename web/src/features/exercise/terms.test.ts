import { expect, test } from "vitest";
import { fromField, toField } from "@/kit/dates";
import { ownWords, termsWords } from "./terms";

test("a time goes through a field unchanged, to the minute", () => {
  const time = 1_796_000_040;
  expect(fromField(toField(time))).toBe(time);
  expect(toField(null)).toBe("");
  expect(fromField("")).toBeNull();
});

test("terms are said in one sentence", () => {
  const none = {
    release_at: null,
    due_at: null,
    attempts: null,
    refuses_late: true,
    shown: "all",
    extensions: [],
  };
  expect(termsWords(none)).toBe("Never due");
  const some = { ...none, due_at: 1_796_000_040, attempts: 1 };
  expect(termsWords(some)).toMatch(/^Due .*, late hand-ins refused, 1 attempt$/);
  expect(ownWords({ due_at: null, attempts_left: 2, shown: "stages", refusal: null })).toBe(
    "2 attempts left, you read which stages pass.",
  );
  expect(ownWords({ due_at: null, attempts_left: null, shown: "all", refusal: null })).toBe("");
});
