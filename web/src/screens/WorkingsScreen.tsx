import { useState } from "react";
import { Link } from "react-router";
import type { WorkingsView as View } from "@/api/schema";
import { useRowCursor } from "@/cursor/useRowCursor";
import { DraftBar } from "@/features/exercise";
import { useRole } from "@/features/session";
import { savingWords, useSavedWorkings, useWorkings, WorkingsView } from "@/features/workings";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import { useCommands } from "@/kit/commands";
import { ErrorNote, Loading } from "@/kit/notes";
import { Trail } from "@/kit/Trail";
import { useStored } from "@/kit/useStored";
import { useKey } from "./useKey";

const NOTATIONS = [
  { value: "prime", label: "a′" },
  { value: "overline", label: "a̅" },
  { value: "operators", label: "~a" },
  { value: "words", label: "not a" },
];

interface PageProps {
  course: number;
  exercise: number;
  start: View;
  onReload: () => void;
}

function Page({ course, exercise, start, onReload }: PageProps) {
  const readOnly = useRole(course) !== "instructor";
  const [notation, setNotation] = useStored("zesty-notation", "prime");
  const [shared, setShared] = useStored("zesty-shared", "no");
  const workings = useWorkings(start, { course, exercise, notation, shared: shared === "yes", readOnly });
  const { draft, view, saving, change, undo, redo } = workings;
  const cursor = useRowCursor(
    Math.max(1, view.derivation?.inputs.length ?? start.derivation?.inputs.length ?? 1),
  );
  const base = `/courses/${course}/exercises/${exercise}`;
  useCommands(
    readOnly
      ? []
      : [
          { title: "Undo the last change", group: "Workings", keys: "Ctrl+Z", run: () => undo?.() },
          { title: "Redo what was undone", group: "Workings", keys: "Ctrl+Shift+Z", run: () => redo?.() },
        ],
  );
  return (
    <>
      <title>{`Workings of ${draft.title} · Zesty Gate`}</title>
      <Trail
        to={[
          ["Pass sheet", `/courses/${course}`],
          [draft.title, base],
        ]}
        here="Workings"
      />
      <div className="ledger mb-5 flex flex-wrap items-end gap-x-4 gap-y-2 pb-2">
        <div className="min-w-60 grow">
          <h1 className="sr-only">Workings of {draft.title}</h1>
          <input
            aria-label="Title"
            className="w-full rounded-sm border border-transparent bg-transparent text-2xl font-bold hover:border-rule focus:border-rule-strong"
            value={draft.title}
            readOnly={readOnly}
            onChange={(e) => change({ ...draft, title: e.target.value })}
          />
          <p
            role="status"
            className={
              saving.state === "failed" || saving.state === "faulty" ? "text-rust-ink" : "text-ink-soft"
            }
          >
            Workings · {savingWords(saving, readOnly ? "read only" : "saved")}
          </p>
        </div>
        {!readOnly && (
          <div className="flex">
            <Button disabled={undo === null} onClick={() => undo?.()}>
              Undo
            </Button>
            <Button className="-ml-px" disabled={redo === null} onClick={() => redo?.()}>
              Redo
            </Button>
          </div>
        )}
        <Choice label="Notation" value={notation} options={NOTATIONS} onChange={setNotation} />
        <Link
          className="border border-rule-strong rounded-sm px-3 py-1.5 font-medium hover:bg-tint"
          to={`${base}/handout`}
        >
          Handout
        </Link>
        <Link
          className="border border-rule-strong rounded-sm px-3 py-1.5 font-medium hover:bg-tint"
          to={`${base}/key`}
        >
          Key
        </Link>
      </div>
      {!readOnly && (
        <DraftBar
          course={course}
          exercise={exercise}
          isSaved={saving.state === "saved"}
          onPublished={workings.adopt}
          onDiscarded={onReload}
        />
      )}
      {saving.state === "failed" && <ErrorNote error={saving.error} />}
      {workings.error !== null && <ErrorNote error={workings.error} />}
      <WorkingsView
        course={course}
        exercise={exercise}
        workings={workings}
        cursor={cursor}
        notation={notation}
        shared={shared === "yes"}
        setShared={(on) => setShared(on ? "yes" : "no")}
        readOnly={readOnly}
      />
    </>
  );
}

export function WorkingsScreen() {
  const course = useKey("course");
  const exercise = useKey("exercise");
  const saved = useSavedWorkings(course, exercise);
  const [turn, setTurn] = useState(0);
  if (saved.isPending) return <Loading what="the workings" />;
  if (saved.isError) return <ErrorNote error={saved.error} onRetry={() => saved.refetch()} />;
  // Another text stands there when it is read again.
  const reload = () => saved.refetch().then(() => setTurn(turn + 1));
  return (
    <Page
      key={`${exercise} ${turn}`}
      course={course}
      exercise={exercise}
      start={saved.data}
      onReload={reload}
    />
  );
}
