import type { AnswerResult, QuestionInfo } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import { Prose } from "@/kit/Prose";

const ASKS: Record<string, string> = {
  table: "column of the truth table, 0 and 1 from row 0 on",
  minterms: "minterms",
  maxterms: "maxterms",
  any: "any expression",
  sop: "sum of products",
  pos: "product of sums",
  "canonical-sop": "sum of minterms",
  "canonical-pos": "product of maxterms",
  "nand-only": "NAND gates and inverters only",
  "nor-only": "NOR gates and inverters only",
  "nand-nand": "NAND of NANDs",
  "nor-nor": "NOR of NORs",
};

/** What an answer is asked for, in words. */
export function askWords(ask: string): string {
  return ASKS[ask] ?? ask;
}

interface Props {
  questions: QuestionInfo[];
  answers: Record<string, string>;
  onChange: (answers: Record<string, string>) => void;
  /** What of them can be read, while they are typed. */
  read?: AnswerResult[];
}

/** The answers that students prepare on paper and type in. */
export function AnswerFields({ questions, answers, onChange, read = [] }: Props) {
  if (questions.length === 0) return null;
  return (
    <fieldset className="space-y-3">
      <legend className="text-lg font-bold">Prepared answers</legend>
      {questions.map((q) => {
        const key = `${q.output}.${q.ask}`;
        const problem = read.find((a) => a.output === q.output && a.ask === q.ask)?.problem;
        const hint = `${q.minimal ? "minimal, " : ""}${q.marks} ${q.marks === 1 ? "mark" : "marks"}`;
        return (
          <Field
            key={key}
            label={`${q.output}: ${askWords(q.ask)}`}
            hint={
              problem == null ? (
                hint
              ) : (
                <span className="text-rust-ink">
                  <Prose text={problem} />
                </span>
              )
            }
          >
            <input
              className={`${CONTROL} mono ${problem == null ? "" : "border-rust!"}`}
              aria-invalid={problem != null}
              spellCheck={false}
              autoComplete="off"
              value={answers[key] ?? ""}
              onChange={(e) => onChange({ ...answers, [key]: e.target.value })}
            />
          </Field>
        );
      })}
    </fieldset>
  );
}
