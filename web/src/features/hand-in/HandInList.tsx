import { Link } from "react-router";
import type { HandInLine } from "@/api/schema";
import { markWords, StateMark } from "@/kit/StateMark";

/** When, as the reader's place writes it. */
export function timeText(seconds: number): string {
  return new Date(seconds * 1000).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
}

interface Props {
  course: number;
  lines: HandInLine[];
  current?: number;
}

/** Hand-ins, newest first. */
export function HandInList({ course, lines, current }: Props) {
  return (
    <ul className="divide-y divide-rule border-y border-rule">
      {lines.map((line) => {
        const mark = { ...line.cell, signed: line.cell.signed_off !== null };
        return (
          <li key={line.id}>
            <Link
              to={`/courses/${course}/hand-ins/${line.id}`}
              aria-current={line.id === current ? "page" : undefined}
              className={`flex items-center gap-3 px-2 py-1 hover:bg-tint ${line.id === current ? "bg-tint font-bold" : ""}`}
            >
              <StateMark mark={mark} />
              <span className="grow">{line.student}</span>
              <span className="text-sm text-ink-soft">{markWords(mark)}</span>
              <span className="text-sm text-ink-soft">attempt {line.cell.attempt}</span>
              <span className="hidden text-sm tabular-nums text-ink-soft sm:inline">
                {timeText(line.submitted_at)}
              </span>
            </Link>
          </li>
        );
      })}
    </ul>
  );
}
