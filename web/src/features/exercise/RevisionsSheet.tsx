import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, saveExercise } from "@/api/client";
import type { RevisionInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import { DiffLines } from "@/kit/DiffLines";
import { dateAndTime } from "@/kit/dates";
import { CONTROL } from "@/kit/Field";
import { ErrorNote, Loading } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";

interface Props {
  course: number;
  exercise: number;
  version: number;
  onClose: () => void;
  /** An earlier text was taken as the draft. */
  onTaken: () => void;
}

/** The published revisions, what differs between any two, and the way back to one. */
export function RevisionsSheet({ course, exercise, version, onClose, onTaken }: Props) {
  const path = { course, exercise };
  const difference = (query: { from: number; to?: number }) =>
    answered(api.GET("/api/courses/{course}/exercises/{exercise}/difference", { params: { path, query } }));
  const list = useQuery({
    queryKey: ["revisions", course, exercise],
    queryFn: () =>
      answered(api.GET("/api/courses/{course}/exercises/{exercise}/revisions", { params: { path } })),
  });
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState<number | null>(null);
  const newest = list.data?.[0]?.number ?? 0;
  const older = from ?? newest;
  const diff = useQuery({
    queryKey: ["difference", course, exercise, older, to],
    queryFn: () => difference({ from: older, ...(to !== null && { to }) }),
    enabled: list.isSuccess && newest > 0,
  });
  const take = useMutation({
    mutationFn: async () => {
      const taken = await difference({ from: 0, to: older });
      return saveExercise(course, exercise, taken.text, version);
    },
    onSuccess: onTaken,
  });
  const name = (r: RevisionInfo) => `Revision ${r.number}, ${dateAndTime(r.at)}, ${r.author}`;
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Revisions"
      lead="Each one that was published stays. What differs between two of them stands below."
    >
      {list.isPending && <Loading what="the revisions" />}
      {list.isError && <ErrorNote error={list.error} />}
      {list.isSuccess && (
        <>
          <div className="flex flex-wrap items-center gap-2">
            <select
              className={`${CONTROL} !mt-0 !w-auto`}
              aria-label="From"
              value={older}
              onChange={(e) => setFrom(Number(e.target.value))}
            >
              {list.data.map((r) => (
                <option key={r.number} value={r.number}>
                  {name(r)}
                </option>
              ))}
            </select>
            <span>to</span>
            <select
              className={`${CONTROL} !mt-0 !w-auto`}
              aria-label="To"
              value={to ?? "now"}
              onChange={(e) => setTo(e.target.value === "now" ? null : Number(e.target.value))}
            >
              <option value="now">what stands here now</option>
              {list.data.map((r) => (
                <option key={r.number} value={r.number}>
                  {name(r)}
                </option>
              ))}
            </select>
          </div>
          {diff.isError && <ErrorNote error={diff.error} />}
          {diff.isSuccess && <DiffLines lines={diff.data.lines} />}
          {take.isError && <ErrorNote error={take.error} />}
          <Button className="mt-4 self-start" disabled={take.isPending} onClick={() => take.mutate()}>
            Take revision {older} as the draft
          </Button>
        </>
      )}
    </Sheet>
  );
}
