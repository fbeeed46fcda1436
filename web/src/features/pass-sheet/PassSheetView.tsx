import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef } from "react";
import { Link } from "react-router";
import type { PassSheet } from "@/api/schema";
import { shortDate } from "@/kit/dates";
import { useKept } from "@/kit/useKept";
import { cellId, HEAD } from "./cells";
import { Legend } from "./Legend";
import { hasMarks, linesOf, passedOf, sectionsOf } from "./lines";
import { StudentRow } from "./StudentRow";
import { useGridKeys } from "./useGridKeys";

const LINE = 37;

/** Students × exercises. Lines outside the window are not drawn, so that a large course scrolls at once. */
export function PassSheetView({ course, sheet }: { course: number; sheet: PassSheet }) {
  const keep = (what: string) => `pass-sheet ${course} ${what}`;
  const [text, setText] = useKept(keep("search"), "");
  const [section, setSection] = useKept(keep("section"), "");
  const [shown, setShown] = useKept<"rows" | "marks">(keep("shown"), "rows");
  const marks = shown === "marks";
  const lines = useMemo(() => linesOf(sheet, text, section), [sheet, text, section]);
  const students = lines.filter((l) => l.kind === "student").length;
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 12,
  });
  const reveal = (index: number) =>
    rows.scrollToIndex(lines.findIndex((l) => l.kind === "student" && l.index === index));
  const { active, activate, onKeyDown } = useGridKeys(keep("cell"), students, sheet.exercises.length, reveal);
  const columns = `minmax(9.5rem, 1.2fr) ${marks ? "minmax(6rem, 0.7fr) " : ""}repeat(${sheet.exercises.length}, minmax(6.4rem, 1fr))`;
  const sections = sectionsOf(sheet);
  return (
    <>
      {sheet.students.length > 1 && (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <input
            type="search"
            aria-label="Find a student"
            placeholder="Find a student"
            className="w-56 border border-rule-strong bg-sheet px-2 py-1 rounded-sm"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <select
            aria-label="Section"
            className="border border-rule-strong bg-sheet px-2 py-1 rounded-sm"
            value={section}
            onChange={(e) => setSection(e.target.value)}
          >
            <option value="">All sections</option>
            {sections.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
          {hasMarks(sheet) && (
            <select
              aria-label="Show"
              className="border border-rule-strong bg-sheet px-2 py-1 rounded-sm"
              value={shown}
              onChange={(e) => setShown(e.target.value === "marks" ? "marks" : "rows")}
            >
              <option value="rows">Rows right</option>
              <option value="marks">Marks</option>
            </select>
          )}
          <span className="text-ink-soft">{students} students</span>
          {sheet.waiting > 0 && (
            <span role="status" className="text-ink-soft">
              · {sheet.waiting} {sheet.waiting === 1 ? "hand-in waits" : "hand-ins wait"} for a check
            </span>
          )}
          <a className="ml-auto underline" href={`/api/courses/${course}/pass-sheet.csv`} download>
            Download as CSV
          </a>
        </div>
      )}
      <div ref={box} className="mt-3 max-h-[calc(100vh-15rem)] min-h-40 overflow-auto">
        <div
          role="grid"
          aria-label="Pass sheet"
          aria-rowcount={students + 1}
          onKeyDown={onKeyDown}
          style={{ minWidth: `${9.5 + (marks ? 6 : 0) + 6.4 * sheet.exercises.length}rem` }}
        >
          <div
            role="row"
            className="sticky top-0 z-[2] grid bg-paper"
            style={{ gridTemplateColumns: columns }}
            aria-rowindex={1}
          >
            <div
              role="columnheader"
              className="sticky left-0 border-b-2 border-rule-strong bg-paper py-1 font-bold"
            >
              Student
            </div>
            {marks && (
              <div
                role="columnheader"
                className="border-b-2 border-l border-rule-strong border-l-rule py-1 text-center font-bold"
              >
                Marks
              </div>
            )}
            {sheet.exercises.map((exercise, column) => (
              <div
                key={exercise.id}
                role="columnheader"
                className="border-b-2 border-l border-rule-strong border-l-rule px-1.5 py-1 text-center"
              >
                <Link
                  id={cellId(HEAD, column)}
                  tabIndex={active.line === HEAD && active.column === column ? 0 : -1}
                  onFocus={() => activate(HEAD, column)}
                  className="line-clamp-2 font-bold [overflow-wrap:anywhere] hover:underline"
                  title={exercise.title}
                  to={`/courses/${course}/exercises/${exercise.id}`}
                >
                  {exercise.title}
                </Link>
                {exercise.due_at !== null && (
                  <div className="text-sm text-ink-soft">due {shortDate(exercise.due_at)}</div>
                )}
                {exercise.state !== "published" && (
                  <div className="text-sm text-amber-ink">
                    {exercise.state === "unpublished" ? "not published" : "has a draft"}
                  </div>
                )}
                {sheet.students.length > 1 && (
                  <div className="text-sm text-ink-soft">
                    {passedOf(sheet, column)} of {sheet.students.length} passed
                  </div>
                )}
              </div>
            ))}
          </div>
          <div style={{ height: rows.getTotalSize(), position: "relative" }} role="presentation">
            {rows.getVirtualItems().map((item) => {
              const line = lines[item.index];
              if (line === undefined) return null;
              return (
                <div
                  key={item.key}
                  role="presentation"
                  className="absolute left-0 grid w-full"
                  style={{ top: item.start, height: LINE, gridTemplateColumns: columns }}
                >
                  {line.kind === "section" ? (
                    <div
                      role="presentation"
                      className="col-span-full flex items-end border-b border-rule-strong pb-0.5 text-sm font-bold text-ink-soft"
                    >
                      {line.name} · {line.count}
                    </div>
                  ) : (
                    <StudentRow
                      course={course}
                      sheet={sheet}
                      student={line.student}
                      index={line.index}
                      marks={marks}
                      active={active.line === line.index ? active.column : null}
                      onActivate={activate}
                    />
                  )}
                </div>
              );
            })}
          </div>
        </div>
      </div>
      {students === 0 && <p className="py-4 text-ink-soft">No student fits this search.</p>}
      <Legend />
    </>
  );
}
