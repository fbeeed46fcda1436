import { Link } from "react-router";
import type { PassSheet, StudentLine } from "@/api/schema";
import { markWords, StateMark } from "@/kit/StateMark";
import { cellId } from "./cells";

interface Props {
  course: number;
  sheet: PassSheet;
  student: StudentLine;
  index: number;
  /** The column of the active cell when it is in this line. */
  active: number | null;
  /** Marks instead of right rows. */
  marks: boolean;
  onActivate: (line: number, column: number) => void;
}

export function StudentRow({ course, sheet, student, index, active, marks, onActivate }: Props) {
  return (
    <div role="row" className="contents" aria-rowindex={index + 2}>
      <div
        role="rowheader"
        className="sticky left-0 z-[1] flex items-center truncate border-b border-rule bg-paper pr-2"
      >
        {student.name}
      </div>
      {marks && (
        <div
          role="gridcell"
          className="flex items-center justify-center border-b border-l border-rule text-sm tabular-nums"
        >
          {student.marks === null ? "—" : `${student.marks}/${student.out_of}`}
        </div>
      )}
      {sheet.exercises.map((exercise, column) => {
        const cell = student.cells[column] ?? null;
        const mark = cell && { ...cell, signed: cell.signed_off !== null };
        const to = cell
          ? `/courses/${course}/hand-ins/${cell.hand_in}`
          : `/courses/${course}/exercises/${exercise.id}?for=${student.id}`;
        const earned =
          marks && cell !== null && cell.marks !== null ? `, ${cell.marks} of ${cell.out_of} marks` : "";
        const words = mark ? markWords(mark) + earned : "nothing yet";
        return (
          <div key={exercise.id} role="gridcell" className="border-b border-l border-rule">
            <Link
              id={cellId(index, column)}
              to={to}
              tabIndex={active === column ? 0 : -1}
              onFocus={() => onActivate(index, column)}
              className="flex h-9 items-center justify-center gap-1 px-0.5 hover:bg-tint"
              aria-label={`${student.name}, ${exercise.title}: ${words}`}
              title={cell?.signed_off ? `signed off by ${cell.signed_off}` : undefined}
            >
              {mark ? <StateMark mark={mark} /> : <span className="text-ink-soft">—</span>}
              {marks && cell !== null && cell.marks !== null && (
                <span className="text-xs tabular-nums">
                  {cell.marks}/{cell.out_of}
                </span>
              )}
              {!marks && cell?.state === "partly" && (
                <span className="text-xs tabular-nums">
                  {cell.total > 99
                    ? `${Math.floor((100 * cell.passed) / cell.total)}%`
                    : `${cell.passed}/${cell.total}`}
                </span>
              )}
              {cell && cell.attempt > 1 && <span className="text-xs text-ink-soft">×{cell.attempt}</span>}
            </Link>
          </div>
        );
      })}
    </div>
  );
}
