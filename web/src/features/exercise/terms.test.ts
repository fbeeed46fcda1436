import { expect, test } from "vitest";
import { daysLater, onBothClocks, toField } from "@/kit/dates";
import { ownWords, termsWords } from "./terms";

const TIME = 1_796_000_040;

test("days are added on the clock, over the end of a year and the change of clocks", () => {
  expect(daysLater("2027-12-28T17:00", 7)).toBe("2028-01-04T17:00");
  expect(daysLater("2027-03-27T23:59", 7)).toBe("2027-04-03T23:59");
  expect(daysLater("", 7)).toBe("");
});

test("the clock of the course is said where it shows something else", () => {
  expect(onBothClocks(TIME, toField(TIME), "Europe/Vienna")).not.toContain("Vienna");
  expect(onBothClocks(TIME, "1999-01-01T08:00", "America/St_Johns")).toContain(
    "(1999-01-01 08:00 in America/St Johns)",
  );
});

test("terms are said in one sentence", () => {
  const none = {
    zone: "UTC",
    release_at: null,
    release: null,
    due_at: null,
    due: null,
    attempts: null,
    refuses_late: true,
    shown: "all",
    extensions: [],
  };
  expect(termsWords(none)).toBe("Never due");
  const some = { ...none, due_at: TIME, due: toField(TIME), attempts: 1 };
  expect(termsWords(some)).toMatch(/^Due .*, late hand-ins refused, 1 attempt$/);
  const own = { due_at: null, due: null, zone: "UTC", attempts_left: 2, shown: "stages", refusal: null };
  expect(ownWords(own)).toBe("2 attempts left, you read which stages pass.");
  expect(ownWords({ ...own, attempts_left: null, shown: "all" })).toBe("");
});
