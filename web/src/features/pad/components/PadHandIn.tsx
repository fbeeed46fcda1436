import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { sendHandIn } from "@/api/client";
import type { ExercisePage, StudentRef } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { contents, type Pad, padForm } from "../model/pad";

interface Props {
  course: number;
  exercise: number;
  pad: Pad;
  page: ExercisePage;
  students: StudentRef[];
  staff: boolean;
  /** Whose attempt it goes on from, for staff. */
  student: number | null;
}

/** Hands the pad in as a new attempt. */
export function PadHandIn({ course, exercise, pad, page, students, staff, student }: Props) {
  const [chosen, setChosen] = useState(student === null ? "" : String(student));
  const queries = useQueryClient();
  const navigate = useNavigate();
  const send = useMutation({
    mutationFn: () => sendHandIn(course, exercise, padForm(pad, staff ? Number(chosen) : null)),
    onSuccess: async (kept) => {
      await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
      navigate(`/courses/${course}/hand-ins/${kept.id}`);
    },
  });
  return (
    <div className="flex flex-wrap items-center gap-2 border-t border-rule pt-3">
      <p className="w-full text-ink-soft">
        Goes in: {contents(pad, page.answers.length, page.board !== null)}.
      </p>
      {send.isError && <ErrorNote error={send.error} />}
      {staff && (
        <select
          aria-label="Student"
          className={`${CONTROL} mt-0! w-52!`}
          value={chosen}
          onChange={(e) => setChosen(e.target.value)}
        >
          <option value="">for which student?</option>
          {students.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      )}
      <Button
        strength="strong"
        disabled={send.isPending || (staff && chosen === "")}
        onClick={() => send.mutate()}
      >
        {send.isPending ? "Sending…" : "Hand in as a new attempt"}
      </Button>
    </div>
  );
}
