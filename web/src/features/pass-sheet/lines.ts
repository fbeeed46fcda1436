import type { PassSheet, StudentLine } from "@/api/schema";

/** A line of the sheet as it is drawn: the head of a section, or a student. */
export type Line =
  | { kind: "section"; name: string; count: number }
  | { kind: "student"; student: StudentLine; index: number };

/** The students whose name holds the text, of the section (all when empty), under heads of their sections. */
export function linesOf(sheet: PassSheet, text: string, section: string): Line[] {
  const wanted = text.trim().toLowerCase();
  const shown = sheet.students.filter(
    (s) => (section === "" || s.section === section) && s.name.toLowerCase().includes(wanted),
  );
  const lines: Line[] = [];
  let last: string | null = null;
  shown.forEach((student, index) => {
    if (student.section !== last) {
      last = student.section;
      const count = shown.filter((s) => s.section === student.section).length;
      if (student.section !== "") lines.push({ kind: "section", name: student.section, count });
    }
    lines.push({ kind: "student", student, index });
  });
  return lines;
}

/** The sections in order. */
export function sectionsOf(sheet: PassSheet): string[] {
  return [...new Set(sheet.students.map((s) => s.section))].filter((s) => s !== "");
}

/** Does any exercise give marks? */
export function hasMarks(sheet: PassSheet): boolean {
  return sheet.students.some((s) => s.marks !== null);
}

/** Students who passed an exercise, of all. */
export function passedOf(sheet: PassSheet, exercise: number): number {
  return sheet.students.filter((s) => s.cells[exercise]?.state === "passed").length;
}
