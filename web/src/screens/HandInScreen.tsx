import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answered, api, recheck, signOff } from "@/api/client";
import type { HandInPage } from "@/api/schema";
import { parseRow, useRowCursor } from "@/cursor/useRowCursor";
import { AttemptsDiff, HandInList } from "@/features/hand-in";
import { timeText } from "@/features/hand-in/HandInList";
import { useRole } from "@/features/session";
import {
  budgetWords,
  DecisionNote,
  DecisionSheet,
  isLimited,
  proofWords,
  VerdictView,
} from "@/features/verdict";
import { WavesSection } from "@/features/waves";
import { Button } from "@/kit/Button";
import { useCommands } from "@/kit/commands";
import { ErrorNote, Loading } from "@/kit/notes";
import { Prose } from "@/kit/Prose";
import { StateMark } from "@/kit/StateMark";
import { Trail } from "@/kit/Trail";
import { say } from "@/kit/toast";
import { useKey } from "./useKey";

/** What a person who may sign off can do here. */
function Actions({ course, page }: { course: number; page: HandInPage }) {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries();
  const again = useMutation({
    mutationFn: () => recheck(course, page.id),
    onSuccess: () => setTimeout(refresh, 400),
  });
  const sign = useMutation({
    mutationFn: () => signOff(course, page.id),
    onSuccess: () => {
      say(`Signed off: ${page.student}, ${page.title}.`);
      return refresh();
    },
  });
  const decides = useRole(course) === "instructor";
  const [deciding, setDeciding] = useState(false);
  const signs = page.cell.signed_off === null && !sign.isPending;
  useCommands([
    ...(page.cell.state !== "waiting"
      ? [{ title: "Check this hand-in again", group: "This hand-in", run: () => again.mutate() }]
      : []),
    ...(signs ? [{ title: "Sign this hand-in off", group: "This hand-in", run: () => sign.mutate() }] : []),
    ...(decides
      ? [{ title: "Decide otherwise than the check", group: "This hand-in", run: () => setDeciding(true) }]
      : []),
  ]);
  return (
    <div className="flex flex-wrap items-center gap-2">
      {(again.isError || sign.isError) && <ErrorNote error={again.error ?? sign.error} />}
      <Button onClick={() => again.mutate()} disabled={again.isPending || page.cell.state === "waiting"}>
        Check again
      </Button>
      {decides && <Button onClick={() => setDeciding(true)}>Decide otherwise…</Button>}
      {deciding && <DecisionSheet course={course} page={page} onClose={() => setDeciding(false)} />}
      {page.cell.signed_off === null ? (
        <Button
          strength={page.cell.state === "passed" ? "strong" : "plain"}
          onClick={() => sign.mutate()}
          disabled={sign.isPending}
        >
          Sign off
        </Button>
      ) : (
        <span className="border-2 border-ink px-2 py-1 text-sm">signed off by {page.cell.signed_off}</span>
      )}
    </div>
  );
}

function Head({ course, page, staff }: { course: number; page: HandInPage; staff: boolean }) {
  const mark = { ...page.cell, signed: page.cell.signed_off !== null };
  const waiting = page.verdict === null;
  return (
    <>
      <Trail
        to={[
          [staff ? "Pass sheet" : "Your exercises", `/courses/${course}`],
          [page.title, `/courses/${course}/exercises/${page.exercise}`],
        ]}
        here={`${page.student}, attempt ${page.cell.attempt}`}
      />
      <div className="ledger flex flex-wrap items-center gap-x-4 gap-y-2 pb-2">
        <StateMark mark={mark} size={36} />
        <div className="min-w-0 grow basis-80">
          <h1 className="text-xl font-bold leading-snug" aria-live="polite">
            <Prose
              text={waiting ? (page.waits_for ?? "It is taken up for its check.") : (page.headline ?? "")}
            />
          </h1>
          <p className="text-ink-soft">
            {page.student}, attempt {page.cell.attempt}, {timeText(page.submitted_at)}
            {!waiting && page.verdict != null && page.verdict.proof.kind !== "none" && (
              <>
                {" · "}
                <span title={budgetWords(page.verdict.proof) ?? undefined}>
                  {proofWords(page.verdict.proof, page.verdict.rows)}
                </span>
              </>
            )}
            {!waiting && page.verdict != null && isLimited(page.verdict) && (
              <> · {budgetWords(page.verdict.proof)}</>
            )}
            {page.verdict?.rhythm != null && (
              <>
                {" · "}
                {page.verdict.rhythm.output} repeats every{" "}
                {page.verdict.rhythm.period_cycles.toLocaleString("en-GB")} cycles
                {page.verdict.rhythm.hertz !== null && `, ${page.verdict.rhythm.hertz} Hz`}
              </>
            )}
            {page.cell.marks !== null && (
              <>
                {" · "}
                <b className="text-ink">
                  {page.cell.marks} of {page.cell.out_of} marks
                </b>
              </>
            )}
            {page.cell.stale && " · stale: the exercise has changed since this check"}
          </p>
          {page.takes !== null && <p className="text-sm text-ink-soft">Takes {page.takes}.</p>}
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <Link
            className="rounded-sm border border-rule-strong px-3 py-1.5 font-medium hover:bg-tint"
            to={`/courses/${course}/hand-ins/${page.id}/report`}
          >
            Report
          </Link>
          <Link
            className="rounded-sm border border-rule-strong px-3 py-1.5 font-medium hover:bg-tint"
            to={`/courses/${course}/exercises/${page.exercise}/pad?from=${page.id}`}
          >
            Take up again
          </Link>
          {staff && <Actions course={course} page={page} />}
        </div>
      </div>
      <DecisionNote page={page} />
    </>
  );
}

function Page({ course, page }: { course: number; page: HandInPage }) {
  const staff = useRole(course) !== "student";
  const cursor = useRowCursor(page.inputs.length);
  const [params] = useSearchParams();
  const evidence = page.verdict?.findings.find((f) => f.evidence?.row != null)?.evidence?.row ?? null;
  const untouched = !params.has("row");
  // A verdict opens on its first evidence, unless the address names a row.
  useEffect(() => {
    if (untouched && evidence !== null) cursor.setRow(parseRow(evidence, page.inputs.length));
  }, [untouched, evidence, page.inputs.length, cursor.setRow]);
  return (
    <>
      <title>{`${page.student}: ${page.title} · Zesty Gate`}</title>
      <Head course={course} page={page} staff={staff} />
      {page.verdict === null ? (
        <Loading what="the verdict" />
      ) : (
        <VerdictView key={page.id} course={course} page={page} cursor={cursor} />
      )}
      {page.verdict !== null && page.files.some((f) => f.kind === "design") && (
        <WavesSection
          key={`waves ${page.id}`}
          course={course}
          exercise={page.exercise}
          of={{ handIn: page.id }}
          staff={staff}
          about={staff ? "This design over time, beside what is expected." : "This design over time."}
          {...(page.inputs.length > 0 && { cursor: { rows: cursor, inputs: page.inputs } })}
        />
      )}
      {page.attempts.length > 1 && (
        <section aria-labelledby="attempts-title" className="mt-8">
          <h2 id="attempts-title" className="mb-1 text-lg font-bold">
            Attempts
          </h2>
          <HandInList course={course} lines={page.attempts} current={page.id} />
          <AttemptsDiff key={page.id} course={course} lines={page.attempts} current={page.id} />
        </section>
      )}
    </>
  );
}

export function HandInScreen() {
  const course = useKey("course");
  const handIn = useKey("handIn");
  const page = useQuery({
    queryKey: ["hand-in", course, handIn],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}", {
          params: { path: { course, hand_in: handIn } },
        }),
      ),
    refetchInterval: (query) => (query.state.data?.verdict === null ? 300 : false),
  });
  if (page.isPending) return <Loading what="the hand-in" />;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => page.refetch()} />;
  return <Page course={course} page={page.data} />;
}
