import { expect, test } from "vitest";
import type { PassSheet } from "@/api/schema";
import { hasMarks, linesOf, passedOf, sectionsOf } from "./lines";

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
  late: false,
  by_hand: false,
};
const sheet: PassSheet = {
  title: "Packhouse Controls",
  counts_newest: false,
  exercises: [{ id: 1, title: "Hopper interlock", state: "published", due_at: null, release_at: null }],
  archived: [],
  waiting: 0,
  students: [
    { id: 1, name: "Abel Zestwick", section: "Evening", cells: [cell], marks: null, out_of: null },
    { id: 2, name: "Bryony Pomelo", section: "Morning", cells: [null], marks: null, out_of: null },
    {
      id: 3,
      name: "Casimir Tangelo",
      section: "Morning",
      cells: [{ ...cell, state: "partly" }],
      marks: null,
      out_of: null,
    },
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

test("marks are offered where something gives any", () => {
  expect(hasMarks(sheet)).toBe(false);
  const [first, ...others] = sheet.students;
  if (first === undefined) throw new Error("no student");
  expect(hasMarks({ ...sheet, students: [...others, { ...first, marks: 0, out_of: 6 }] })).toBe(true);
});
