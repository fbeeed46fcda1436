import { expect, test } from "vitest";
import type { PassSheet } from "@/api/types";
import { hasMarks, linesOf, marksOf, passedOf, sectionsOf } from "./lines";

const cell = {
  hand_in: 1,
  state: "passed",
  passed: 8,
  total: 8,
  attempt: 1,
  stale: false,
  signed_off: null,
  marks: null,
  out_of: null,
};
const sheet: PassSheet = {
  title: "Packhouse Controls",
  exercises: [{ id: 1, title: "Hopper interlock" }],
  students: [
    { id: 1, name: "Abel Zestwick", section: "Evening", cells: [cell] },
    { id: 2, name: "Bryony Pomelo", section: "Morning", cells: [null] },
    { id: 3, name: "Casimir Tangelo", section: "Morning", cells: [{ ...cell, state: "partly" }] },
  ],
};

test("students stand under their sections and a search leaves out empty ones", () => {
  expect(linesOf(sheet, "", "").map((l) => l.kind)).toEqual([
    "section",
    "student",
    "section",
    "student",
    "student",
  ]);
  expect(linesOf(sheet, "TANG", "").length).toBe(2);
  expect(linesOf(sheet, "", "Evening").length).toBe(2);
  expect(sectionsOf(sheet)).toEqual(["Evening", "Morning"]);
});

test("only passed counts as passed", () => {
  expect(passedOf(sheet, 0)).toBe(1);
});

test("marks are summed over what was judged, without the dust of binary fractions", () => {
  expect(hasMarks(sheet)).toBe(false);
  const marked = (marks: number) => ({ ...cell, marks, out_of: 6 });
  const student = {
    id: 4,
    name: "Dorian Citron",
    section: "",
    cells: [marked(0.1), null, marked(5.2), cell],
  };
  expect(hasMarks({ ...sheet, students: [student] })).toBe(true);
  expect(marksOf(student)).toEqual({ earned: 5.3, outOf: 12 });
  expect(marksOf({ ...student, cells: [cell, null] })).toBeNull();
});
