import { frequencyText, rhythm, timeText } from "./model";
import type { Drawn } from "./rows";

interface Props {
  cursor: number;
  marks: (number | null)[];
  row: Drawn | undefined;
  end: number;
  /** The lanes hold only what is in sight. */
  partly: boolean;
}

/** What can be read off: the cursor, the marks and what lies between them, the rhythm of the chosen lane. */
export function Readings({ cursor, marks, row, end, partly }: Props) {
  const [one, two] = [marks[0] ?? null, marks[1] ?? null];
  const between = one !== null && two !== null ? Math.abs(two - one) : null;
  const [from, to] = one !== null && two !== null ? [Math.min(one, two), Math.max(one, two)] : [0, end];
  const found = row?.steps?.width === 1 ? rhythm(row.steps, from, to) : null;
  return (
    <p className="mt-1 flex flex-wrap gap-x-4 text-sm" aria-live="polite">
      <span>
        cursor <span className="mono">{timeText(cursor)}</span>
      </span>
      {marks.map((mark, k) =>
        mark === null ? null : (
          // biome-ignore lint/suspicious/noArrayIndexKey: a mark is its number
          <span key={k}>
            mark {k + 1} <span className="mono">{timeText(mark)}</span>
          </span>
        ),
      )}
      {between !== null && between > 0 && (
        <span>
          between them{" "}
          <span className="mono">
            {timeText(between)} = {frequencyText(between)}
          </span>
        </span>
      )}
      {found !== null && (
        <span>
          {row?.title}: period <span className="mono">{timeText(found.period)}</span>,{" "}
          <span className="mono">{frequencyText(found.period)}</span>, high{" "}
          <span className="mono">{Number((found.duty * 100).toFixed(1))} %</span>
          {between !== null ? " between the marks" : partly ? " in sight" : " over the whole run"}
        </span>
      )}
    </p>
  );
}
