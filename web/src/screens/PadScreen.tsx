import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { answered, api } from "@/api/client";
import { attemptPad, PadView, padKey } from "@/features/pad";
import { useRole, useStart } from "@/features/session";
import { ErrorNote, Loading } from "@/kit/notes";
import { Trail } from "@/kit/Trail";
import { useKey } from "./useKey";

/** A number in the address; null when it is none. */
function numberOf(text: string | null): number | null {
  return text !== null && /^\d+$/.test(text) ? Number(text) : null;
}

/** The scratch pad of an exercise, empty or going on from an attempt. */
export function PadScreen() {
  const course = useKey("course");
  const exercise = useKey("exercise");
  const [params] = useSearchParams();
  const from = numberOf(params.get("from"));
  const staff = useRole(course) !== "student";
  const start = useStart();
  const page = useQuery({
    queryKey: ["exercise", course, exercise],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}", { params: { path: { course, exercise } } }),
      ),
  });
  const attempt = useQuery({
    queryKey: ["hand-in", course, from],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}", {
          params: { path: { course, hand_in: Number(from) } },
        }),
      ),
    enabled: from !== null,
  });
  if (page.isPending || (from !== null && attempt.isPending)) return <Loading what="the scratch pad" />;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => page.refetch()} />;
  if (attempt.isError) return <ErrorNote error={attempt.error} onRetry={() => attempt.refetch()} />;
  const base = attempt.data ?? null;
  const begun =
    base === null ? null : attemptPad(base, numberOf(params.get("finding")), numberOf(params.get("fix")));
  const person = start.data?.me?.name ?? "";
  return (
    <>
      <title>{`Scratch pad: ${page.data.title} · Zesty Gate`}</title>
      <Trail
        to={[
          [staff ? "Pass sheet" : "Your exercises", `/courses/${course}`],
          [page.data.title, `/courses/${course}/exercises/${exercise}`],
        ]}
        here="Scratch pad"
      />
      <div className="ledger pb-2">
        <h1 className="text-2xl font-bold">Scratch pad</h1>
        <p className="text-ink-soft">
          {base === null
            ? "Nothing here is handed in until you say so; this browser remembers it."
            : `Going on from attempt ${base.cell.attempt} of ${base.student}; that attempt stays as it is.`}
        </p>
      </div>
      <PadView
        key={params.toString()}
        course={course}
        page={page.data}
        staff={staff}
        remember={padKey(person, course, exercise)}
        from={begun}
        origin={params.toString()}
        student={page.data.students.find((s) => s.name === base?.student)?.id ?? null}
      />
    </>
  );
}
