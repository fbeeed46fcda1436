import { ASK_WORDS, STAGE_WORDS } from "@/api/lists";
import type { AnswerForm } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

/** Marks by stage with their sum, and answers to be prepared. */
export function MarksPart({ draft, problem, readOnly, set, bits }: PartsProps & { bits: string[] }) {
  const { marks, answers } = draft.parts;
  const of = (stage: string) => marks.find((m) => m.name === stage)?.text ?? "";
  const give = (stage: string, text: string) =>
    set({ marks: [...marks.filter((m) => m.name !== stage), { name: stage, text }] });
  const change = (at: number, part: Partial<AnswerForm>) =>
    set({ answers: answers.map((a, k) => (k === at ? { ...a, ...part } : a)) });
  const sum =
    marks.reduce((all, m) => all + (Number(m.text) || 0), 0) +
    answers.reduce((all, a) => all + (a.marks === "" ? 1 : Number(a.marks) || 0), 0);
  return (
    <fieldset disabled={readOnly} className="space-y-3">
      <legend className="sr-only">Marks</legend>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-6">
        {STAGE_WORDS.filter((s) => s !== "files").map((stage) => (
          <Field key={stage} label={stage.charAt(0).toUpperCase() + stage.slice(1)}>
            <input
              className={`${CONTROL} mono`}
              inputMode="decimal"
              value={of(stage)}
              onChange={(e) => give(stage, e.target.value)}
            />
          </Field>
        ))}
      </div>
      <FieldFault problem={problem} start="marks" />
      <h3 className="font-medium">Prepared answers</h3>
      {answers.map((answer, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of a form have no key of their own
        <div key={at} className="flex flex-wrap items-center gap-2">
          <select
            aria-label={`Output of answer ${at + 1}`}
            className={`${CONTROL} !mt-0 !w-auto`}
            value={answer.output}
            onChange={(e) => change(at, { output: e.target.value })}
          >
            {[...new Set([...bits, answer.output])].map((bit) => (
              <option key={bit}>{bit}</option>
            ))}
          </select>
          <select
            aria-label={`What answer ${at + 1} asks for`}
            className={`${CONTROL} !mt-0 !w-auto`}
            value={answer.ask}
            onChange={(e) => change(at, { ask: e.target.value })}
          >
            {ASK_WORDS.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={answer.minimal}
              onChange={(e) => change(at, { minimal: e.target.checked })}
            />
            minimal
          </label>
          <input
            aria-label={`Marks of answer ${at + 1}`}
            className={`${CONTROL} mono !mt-0 !w-20`}
            placeholder="1"
            inputMode="numeric"
            value={answer.marks}
            onChange={(e) => change(at, { marks: e.target.value })}
          />
          <Button strength="quiet" onClick={() => set({ answers: answers.filter((_, k) => k !== at) })}>
            Take out
          </Button>
        </div>
      ))}
      {bits.length > 0 && (
        <Button
          onClick={() =>
            set({
              answers: [...answers, { output: bits[0] ?? "", ask: "sop", minimal: false, marks: "" }],
            })
          }
        >
          + Answer
        </Button>
      )}
      <FieldFault problem={problem} start="answers" />
      {sum > 0 && <p className="text-ink-soft">{sum} marks in all.</p>}
    </fieldset>
  );
}
