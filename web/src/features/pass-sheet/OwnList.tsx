import { Link } from "react-router";
import type { Cell, ExerciseHead, PassSheet } from "@/api/schema";
import { dateAndTime } from "@/kit/dates";
import { markWords, StateMark } from "@/kit/StateMark";

/** What is due next stands first; what is over or never due, behind it. */
export function ownOrder(exercises: ExerciseHead[], now: number): number[] {
  const rank = (e: ExerciseHead) =>
    e.due_at === null || e.due_at < now ? Number.POSITIVE_INFINITY : e.due_at;
  return exercises
    .map((_, k) => k)
    .sort((a, b) => {
      const [one, other] = [exercises[a], exercises[b]];
      if (one === undefined || other === undefined || rank(one) === rank(other)) return a - b;
      return rank(one) - rank(other);
    });
}

/** When it is due, in words. */
export function dueWords(due: number | null, now: number): string {
  if (due === null) return "";
  const days = Math.floor((due - now) / 86_400);
  if (due < now) return `was due ${dateAndTime(due)}`;
  if (days === 0) return `due within a day: ${dateAndTime(due)}`;
  return `due ${dateAndTime(due)}`;
}

function State({ cell }: { cell: Cell | null }) {
  if (cell === null) return <span className="text-ink-soft">nothing yet</span>;
  const mark = { ...cell, signed: cell.signed_off !== null };
  return (
    <span className="flex items-center gap-2">
      <StateMark mark={mark} />
      <span>
        {markWords(mark)}
        {cell.marks !== null && `, ${cell.marks} of ${cell.out_of} marks`}
      </span>
    </span>
  );
}

/** A student's home: the exercises with when they are due and how they stand. */
export function OwnList({ course, sheet }: { course: number; sheet: PassSheet }) {
  const now = Date.now() / 1000;
  const cells = sheet.students[0]?.cells ?? [];
  return (
    <ul className="mt-3 divide-y divide-rule border-y border-rule" aria-label="Your exercises">
      {ownOrder(sheet.exercises, now).map((k) => {
        const exercise = sheet.exercises[k];
        if (exercise === undefined) return null;
        const cell = cells[k] ?? null;
        return (
          <li key={exercise.id} className="flex flex-wrap items-center gap-x-6 gap-y-1 py-2.5">
            <div className="min-w-0 grow basis-64">
              <Link
                className="font-bold underline [overflow-wrap:anywhere]"
                to={`/courses/${course}/exercises/${exercise.id}`}
              >
                {exercise.title}
              </Link>
              <span className="block text-sm text-ink-soft">{dueWords(exercise.due_at, now)}</span>
            </div>
            <div className="basis-72">
              {cell === null ? (
                <State cell={null} />
              ) : (
                <Link className="hover:underline" to={`/courses/${course}/hand-ins/${cell.hand_in}`}>
                  <State cell={cell} />
                </Link>
              )}
            </div>
          </li>
        );
      })}
    </ul>
  );
}
