import type { AnswerResult } from "@/api/schema";
import { askWords } from "@/features/hand-in";
import { StateMark } from "@/kit/StateMark";

const STATES: Record<string, string> = {
  right: "passed",
  partly: "partly",
  wrong: "failed",
  missing: "failed",
};

/** How the prepared answers were marked. */
export function Answers({ answers }: { answers: AnswerResult[] }) {
  if (answers.length === 0) return null;
  const sum = (key: "marks" | "out_of") => answers.reduce((total, a) => total + a[key], 0);
  return (
    <section aria-labelledby="answers-title">
      <div className="mb-2 flex items-baseline justify-between">
        <h2 id="answers-title" className="text-lg font-bold">
          Prepared answers
        </h2>
        <p className="text-ink-soft">
          {sum("marks")} of {sum("out_of")} marks
        </p>
      </div>
      <ul>
        {answers.map((a) => (
          <li key={`${a.output}.${a.ask}`} className="flex items-center gap-3 border-b border-rule py-1.5">
            <StateMark
              mark={{ state: STATES[a.state] ?? "failed", passed: 0, total: 0, stale: false, signed: false }}
            />
            <span className="w-56 shrink-0">
              <b className="mono">{a.output}</b>{" "}
              <span className="text-sm text-ink-soft">{askWords(a.ask)}</span>
            </span>
            <span className="mono min-w-0 grow truncate" title={a.given}>
              {a.given === "" ? <i className="text-ink-soft">nothing typed</i> : a.given}
            </span>
            <span className="tabular-nums">
              {a.marks}/{a.out_of}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
