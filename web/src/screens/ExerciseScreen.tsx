import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answered, api } from "@/api/client";
import type { ExercisePage } from "@/api/schema";
import { useRowCursor } from "@/cursor/useRowCursor";
import { BenchPanel } from "@/features/bench";
import {
  DraftBar,
  ExerciseFileButton,
  ExerciseView,
  MoreMenu,
  ownWords,
  Statement,
  TermsButton,
  termsWords,
} from "@/features/exercise";
import { BundleSheet, HandInButton, HandInList } from "@/features/hand-in";
import { useRole } from "@/features/session";
import { WavesSection } from "@/features/waves";
import { Button } from "@/kit/Button";
import { useCommands } from "@/kit/commands";
import { download } from "@/kit/download";
import { Empty, ErrorNote, Loading } from "@/kit/notes";
import { Trail } from "@/kit/Trail";
import { useKey } from "./useKey";

const LINK = "border border-rule-strong rounded-sm bg-sheet px-3 py-1.5 font-medium hover:bg-tint";

function Plan({ page }: { page: ExercisePage }) {
  if (page.plan.length === 0) return null;
  return (
    <section aria-labelledby="plan-title" className="mt-5">
      <h2 id="plan-title" className="mb-1 text-lg font-bold">
        Wiring plan
      </h2>
      <ul className="grid grid-cols-2 gap-x-6 sm:grid-cols-3">
        {page.plan.map((line) => (
          <li key={line.bit} className="mono flex justify-between border-b border-rule py-0.5 text-sm">
            <span>{line.bit}</span>
            <span>
              <b>{line.part}</b> <span className="text-ink-soft">{line.pin}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Page({ course, page }: { course: number; page: ExercisePage }) {
  const role = useRole(course);
  const staff = role !== "student";
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const cursor = useRowCursor(page.inputs.length);
  const benchOf = useMemo(() => ({ course, exercise: page.id }), [course, page.id]);
  const lines = useQuery({
    queryKey: ["hand-ins", course, page.id],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/hand-ins", {
          params: { path: { course, exercise: page.id } },
        }),
      ),
  });
  const preset = params.get("for");
  const [many, setMany] = useState(false);
  const own = `/courses/${course}/exercises/${page.id}`;
  const goTo = (title: string, rest: string) => ({
    title,
    group: "This exercise",
    run: () => navigate(`${own}${rest}`),
  });
  useCommands([
    goTo("Open the scratch pad", "/pad"),
    goTo("Print the handout", "/handout"),
    ...(staff ? [goTo("Open the workings", "/workings"), goTo("Print the key", "/key")] : []),
  ]);
  return (
    <>
      <title>{`${page.title} · Zesty Gate`}</title>
      <Trail to={[[staff ? "Pass sheet" : "Your exercises", `/courses/${course}`]]} here={page.title} />
      <div className="ledger flex flex-wrap items-end gap-3 pb-2">
        <div className="grow">
          <h1 className="text-2xl font-bold">{page.title}</h1>
          <p className="text-ink-soft">
            {page.revision === 0 ? "Not published" : `Revision ${page.revision}`}
            {page.standing?.archived === true && ", archived: students don't see it"}
            {page.terms !== null && ` · ${termsWords(page.terms)}`}
            {page.own_terms !== null && ` · ${ownWords(page.own_terms)}`}
          </p>
        </div>
        <Link className={LINK} to={`/courses/${course}/exercises/${page.id}/handout`}>
          Handout
        </Link>
        <Link className={LINK} to={`/courses/${course}/exercises/${page.id}/pad`}>
          Scratch pad
        </Link>
        {staff && (
          <Link className={LINK} to={`/courses/${course}/exercises/${page.id}/workings`}>
            Workings
          </Link>
        )}
        {page.text !== null && (
          <ExerciseFileButton
            key={page.version}
            course={course}
            exercise={page.id}
            text={page.text}
            version={page.version}
          />
        )}
        {staff && page.revision > 0 && <Button onClick={() => setMany(true)}>Many at once</Button>}
        {many && <BundleSheet course={course} exercise={page.id} onClose={() => setMany(false)} />}
        <HandInButton
          key={`${page.id} ${preset}`}
          course={course}
          exercise={page.id}
          students={page.students}
          staff={staff}
          questions={page.answers}
          preset={staff && preset !== null ? Number(preset) : null}
          refusal={page.own_terms?.refusal ?? null}
        />
      </div>
      {role === "instructor" && (
        <div className="mt-4">
          <DraftBar
            course={course}
            exercise={page.id}
            isSaved
            onPublished={() => {}}
            onDiscarded={() => queries.invalidateQueries({ queryKey: ["exercise", course, page.id] })}
          >
            {page.terms !== null && (
              <TermsButton
                key={JSON.stringify(page.terms)}
                course={course}
                exercise={page.id}
                terms={page.terms}
                students={page.students}
              />
            )}
            <MoreMenu course={course} page={page} />
          </DraftBar>
        </div>
      )}
      <Statement text={page.statement} />
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <ExerciseView page={page} cursor={cursor} />
        <div>
          {staff && page.board !== null && page.clocked === null && page.wide === null && (
            <BenchPanel
              board={page.board}
              of={benchOf}
              cursor={cursor}
              loaded="The expected behaviour, wired as planned"
            />
          )}
          <Plan page={page} />
        </div>
      </div>
      {staff && (
        <WavesSection
          key={page.revision}
          course={course}
          exercise={page.id}
          of={{ revision: page.revision }}
          staff={staff}
          about="What is expected over time, under the stimulus that hand-ins are run with."
          {...(page.clocked === null &&
            page.wide === null && { cursor: { rows: cursor, inputs: page.inputs } })}
        />
      )}
      {page.starters.length > 0 && (
        <section aria-labelledby="starter-title" className="mt-6">
          <h2 id="starter-title" className="mb-1 text-lg font-bold">
            To start from
          </h2>
          <div className="flex flex-wrap gap-2">
            {page.starters.map((file) => (
              <Button key={file.kind} onClick={() => download(file.kind, "text/plain", file.text)}>
                {file.kind}
              </Button>
            ))}
          </div>
        </section>
      )}
      <section aria-labelledby="list-title" className="mt-8">
        <h2 id="list-title" className="mb-1 text-lg font-bold">
          Hand-ins
        </h2>
        {lines.isPending && <Loading what="hand-ins" />}
        {lines.isError && <ErrorNote error={lines.error} onRetry={() => lines.refetch()} />}
        {lines.data?.length === 0 && (
          <Empty title="Nothing handed in yet">The first hand-in shows here with its verdict.</Empty>
        )}
        {lines.data !== undefined && lines.data.length > 0 && (
          <HandInList course={course} lines={lines.data} />
        )}
      </section>
    </>
  );
}

export function ExerciseScreen() {
  const course = useKey("course");
  const exercise = useKey("exercise");
  const page = useQuery({
    queryKey: ["exercise", course, exercise],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}", { params: { path: { course, exercise } } }),
      ),
  });
  if (page.isPending) return <Loading what="the exercise" />;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => page.refetch()} />;
  return <Page course={course} page={page.data} />;
}
