import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, discardDraft, publishExercise } from "@/api/client";
import type { PublishPreview } from "@/api/schema";
import { Button } from "@/kit/Button";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";
import { OwnCheckNote } from "./OwnCheckNote";
import { RevisionsSheet } from "./RevisionsSheet";

interface Props {
  course: number;
  exercise: number;
  /** What is typed is saved, so that it may be published. */
  isSaved: boolean;
  /** The exercise was published; what the next save has to say. */
  onPublished: (version: number) => void;
  /** The draft is gone. */
  onDiscarded: () => void;
  /** What else is done with the exercise as a whole. */
  children?: ReactNode;
}

/** What publishing does, in words. */
export function consequences(preview: PublishPreview): string {
  if (preview.is_first) return "Students see the exercise for the first time.";
  const { recounted, changes_marks: marked } = preview;
  const anew = recounted === 1 ? "those of 1 hand-in are" : `those of ${recounted} hand-ins are`;
  if (!preview.changes_checks && marked) {
    if (preview.stale > 0)
      return `Only marks and words change: ${anew} counted anew, and ${preview.stale} older ones have to be checked again.`;
    return recounted === 0
      ? "Only marks and words change; nothing was marked yet."
      : `Only marks and words change: ${anew} counted anew, and no verdict becomes stale.`;
  }
  if (!preview.changes_checks && !marked) return "Only words change: every verdict stays as it is.";
  if (preview.stale === 0) return "What is checked changes; no verdict rests on it yet.";
  const verdicts = preview.stale === 1 ? "1 verdict becomes" : `${preview.stale} verdicts become`;
  return `What is checked changes: ${verdicts} stale and can be checked again.`;
}

/** How the exercise stands between its authors and its students, and how that is changed. */
export function DraftBar({ course, exercise, isSaved, onPublished, onDiscarded, children }: Props) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [open, setOpen] = useState<"publish" | "discard" | "revisions" | null>(null);
  const preview = useQuery({
    queryKey: ["publish", course, exercise],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/publish", {
          params: { path: { course, exercise } },
        }),
      ),
    staleTime: 0,
  });
  const version = preview.data?.version ?? 0;
  const again = () =>
    queries.invalidateQueries({ predicate: (q) => !["start", "workings"].includes(String(q.queryKey[0])) });
  const publish = useMutation({
    mutationFn: () => publishExercise(course, exercise, version),
    onSuccess: async (saved) => {
      say("Published; students see it as it is now.");
      onPublished(saved.version);
      setOpen(null);
      await again();
    },
  });
  const discard = useMutation({
    mutationFn: () => discardDraft(course, exercise, version),
    onSuccess: async () => {
      const isGone = preview.data?.is_first === true;
      say(isGone ? "The exercise that was never published is gone." : "The draft is discarded.");
      setOpen(null);
      await again();
      if (isGone) navigate(`/courses/${course}`);
      else onDiscarded();
    },
  });
  if (!preview.isSuccess) return null;
  const { has_draft: hasDraft, is_first: isFirst } = preview.data;
  const close = () => setOpen(null);
  return (
    <div className="mb-4 flex flex-wrap items-center gap-2 border border-rule bg-sheet px-3 py-2 print:hidden">
      <span className="grow">
        {isFirst && "Not published yet: only staff sees this exercise."}
        {!isFirst && hasDraft && "This is a draft: students see the published revision."}
        {!isFirst && !hasDraft && "Published: students see the exercise as it is here."}
      </span>
      {children}
      {!isFirst && (
        <Button strength="quiet" onClick={() => setOpen("revisions")}>
          Revisions
        </Button>
      )}
      {hasDraft && (
        <>
          <Button strength="quiet" disabled={!isSaved} onClick={() => setOpen("discard")}>
            Discard…
          </Button>
          <Button strength="strong" disabled={!isSaved} onClick={() => setOpen("publish")}>
            Publish…
          </Button>
        </>
      )}
      {open === "publish" && (
        <Sheet open onOpenChange={close} title="Publish" lead={consequences(preview.data)}>
          <OwnCheckNote course={course} exercise={exercise} version={version} />
          {publish.isError && <ErrorNote error={publish.error} />}
          <Button
            className="mt-3 self-start"
            strength="strong"
            disabled={publish.isPending}
            onClick={() => publish.mutate()}
          >
            Publish
          </Button>
        </Sheet>
      )}
      {open === "discard" && (
        <Sheet
          open
          onOpenChange={close}
          title="Discard the draft"
          lead={
            isFirst
              ? "The exercise was never published: it goes for good."
              : "What was changed since the published revision goes for good."
          }
        >
          {discard.isError && <ErrorNote error={discard.error} />}
          <Button className="self-start" disabled={discard.isPending} onClick={() => discard.mutate()}>
            Discard it
          </Button>
        </Sheet>
      )}
      {open === "revisions" && (
        <RevisionsSheet
          course={course}
          exercise={exercise}
          version={version}
          onClose={close}
          onTaken={() => {
            close();
            void again();
            onDiscarded();
          }}
        />
      )}
    </div>
  );
}
