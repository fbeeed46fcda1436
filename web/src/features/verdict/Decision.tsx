import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { decide, withdrawDecision } from "@/api/client";
import type { HandInPage } from "@/api/schema";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import { dateAndTime } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";

const OUTCOMES = [
  { value: "pass", label: "Passes" },
  { value: "partly", label: "Partly" },
  { value: "fail", label: "Fails" },
];

/** An outcome as a verb. */
function outcomeWord(kind: string): string {
  return { pass: "passes", partly: "is partly right", fail: "fails" }[kind] ?? kind;
}

/** What staff decided otherwise than the check, for everybody to read. */
export function DecisionNote({ page }: { page: HandInPage }) {
  const decision = page.decision;
  if (decision === null) return null;
  return (
    <p className="mt-3 border-l-4 border-leaf bg-tint px-3 py-2">
      <b>
        {decision.by} decided: it {outcomeWord(decision.kind)}
        {decision.marks !== null && `, ${decision.marks} marks`}.
      </b>{" "}
      {decision.reason}{" "}
      <span className="text-ink-soft">({dateAndTime(decision.at)}; the check's own is below.)</span>
    </p>
  );
}

interface Props {
  course: number;
  page: HandInPage;
  onClose: () => void;
}

/** Decides on a hand-in otherwise than its check, with a reason, or withdraws that. */
export function DecisionSheet({ course, page, onClose }: Props) {
  const queries = useQueryClient();
  const before = page.decision;
  const [kind, setKind] = useState(before?.kind ?? "pass");
  const [marks, setMarks] = useState(before?.marks?.toString() ?? "");
  const [reason, setReason] = useState(before?.reason ?? "");
  const done = (what: string) => async () => {
    say(what);
    onClose();
    await queries.invalidateQueries();
  };
  const save = useMutation({
    mutationFn: () =>
      decide(course, page.id, { kind, marks: marks.trim() === "" ? null : Number(marks), reason }),
    onSuccess: done(`Decided: ${page.student}, ${page.title}.`),
  });
  const withdraw = useMutation({
    mutationFn: () => withdrawDecision(course, page.id),
    onSuccess: done("Withdrawn: the check's verdict counts again."),
  });
  const outOf = page.cell.out_of;
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Decide otherwise"
      lead="Counts instead of the check's verdict until it is withdrawn, also when the design is checked again. It stands in the audit trail."
    >
      <div className="space-y-4">
        <Choice label="Outcome" value={kind} options={OUTCOMES} onChange={setKind} />
        {outOf !== null && (
          <Field label={`Marks, of ${outOf}`} hint="Empty: as they were counted.">
            <input
              className={`${CONTROL} !w-28`}
              type="number"
              min={0}
              max={outOf}
              step="any"
              value={marks}
              onChange={(e) => setMarks(e.target.value)}
            />
          </Field>
        )}
        <Field label="Reason" hint="The student reads it.">
          <textarea
            className={`${CONTROL} h-24`}
            maxLength={500}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
        </Field>
        {save.isError && <ErrorNote error={save.error} />}
        {withdraw.isError && <ErrorNote error={withdraw.error} />}
        <div className="flex gap-2">
          <Button
            strength="strong"
            disabled={reason.trim() === "" || save.isPending}
            onClick={() => save.mutate()}
          >
            Decide
          </Button>
          {before !== null && (
            <Button disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
              Withdraw the decision
            </Button>
          )}
        </div>
      </div>
    </Sheet>
  );
}
