import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { sendHandIn } from "@/api/client";
import type { QuestionInfo, StudentRef } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";
import { AnswerFields } from "./AnswerFields";
import { FileChooser } from "./FileChooser";
import { type Chosen, formOf, problemOf } from "./model";

interface Props {
  course: number;
  exercise: number;
  /** Oneself, or everybody for staff. */
  students: StudentRef[];
  staff: boolean;
  /** Answers to be typed in beside the design. */
  questions: QuestionInfo[];
  /** The student to begin with. */
  preset: number | null;
  /** Why nothing can be handed in now; null where it can. */
  refusal: string | null;
}

/** Opens the hand-in sheet; sending goes on to the verdict. */
export function HandInButton({ course, exercise, students, staff, questions, preset, refusal }: Props) {
  const [open, setOpen] = useState(preset !== null);
  const [student, setStudent] = useState(preset === null ? "" : String(preset));
  const [files, setFiles] = useState<Chosen[]>([]);
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const [told, setTold] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const send = useMutation({
    mutationFn: () => sendHandIn(course, exercise, formOf(files, staff ? Number(student) : null, answers)),
    onSuccess: async (kept) => {
      setOpen(false);
      setFiles([]);
      await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
      navigate(`/courses/${course}/hand-ins/${kept.id}`);
    },
  });
  const submit = () => {
    const problem = staff && student === "" ? "Choose whose hand-in this is." : problemOf(files);
    setTold(problem);
    if (problem === null) send.mutate();
  };
  if (refusal !== null) return <p className="max-w-72 text-sm text-ink-soft">{refusal}</p>;
  return (
    <>
      <Button strength="strong" onClick={() => setOpen(true)}>
        Hand in
      </Button>
      <Sheet
        open={open}
        onOpenChange={setOpen}
        title="Hand in"
        lead="It is kept as a new attempt; earlier ones stay."
      >
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            submit();
          }}
        >
          {staff && (
            <Field label="Student">
              <select className={CONTROL} value={student} onChange={(e) => setStudent(e.target.value)}>
                <option value="">Choose…</option>
                {students.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                    {s.section !== "" && ` (${s.section})`}
                  </option>
                ))}
              </select>
            </Field>
          )}
          <FileChooser
            files={files}
            onChange={(next) => {
              setFiles(next);
              setTold(null);
            }}
          />
          <AnswerFields questions={questions} answers={answers} onChange={setAnswers} />
          {told !== null && (
            <p role="alert" className="text-rust-ink">
              {told}
            </p>
          )}
          {send.isError && <ErrorNote error={send.error} />}
          <Button type="submit" strength="strong" disabled={send.isPending}>
            {send.isPending ? "Sending…" : "Hand in"}
          </Button>
        </form>
      </Sheet>
    </>
  );
}
