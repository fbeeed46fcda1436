import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answered, api } from "@/api/client";
import { CourseTabs } from "@/features/course";
import { ExerciseFileButton, NewExerciseButton } from "@/features/exercise";
import { Counting, OwnList, PassSheetView } from "@/features/pass-sheet";
import { useRole } from "@/features/session";
import { Empty, ErrorNote, Loading } from "@/kit/notes";
import { useKey } from "./useKey";

export function PassSheetScreen() {
  const course = useKey("course");
  const role = useRole(course);
  const sheet = useQuery({
    queryKey: ["pass-sheet", course],
    queryFn: () => answered(api.GET("/api/courses/{course}/pass-sheet", { params: { path: { course } } })),
    refetchInterval: 15_000,
  });
  if (sheet.isPending) return <Loading what="the pass sheet" />;
  if (sheet.isError) return <ErrorNote error={sheet.error} onRetry={() => sheet.refetch()} />;
  const add = role === "instructor" && (
    <>
      <ExerciseFileButton course={course} exercise={null} text="" version={null} />
      <NewExerciseButton course={course} />
    </>
  );
  return (
    <>
      <title>{`${sheet.data.title} · Zesty Gate`}</title>
      <CourseTabs course={course} />
      <div className="ledger flex flex-wrap items-end gap-3 pb-2">
        <div className="grow">
          <h1 className="text-2xl font-bold">{sheet.data.title}</h1>
          <p className="text-ink-soft">{role === "student" ? "Your exercises" : "Pass sheet"}</p>
        </div>
        {add}
      </div>
      {sheet.data.exercises.length === 0 ? (
        <Empty title="No exercises yet">
          {role === "instructor"
            ? "Make the first one above, or add it from its file."
            : "The instructor has not set any."}
        </Empty>
      ) : (
        <>
          {role === "instructor" && <Counting course={course} newest={sheet.data.counts_newest} />}
          {role === "student" ? (
            <OwnList course={course} sheet={sheet.data} />
          ) : (
            <PassSheetView key={course} course={course} sheet={sheet.data} />
          )}
          {sheet.data.archived.length > 0 && (
            <p className="mt-4 text-ink-soft print:hidden">
              Archived:{" "}
              {sheet.data.archived.map((exercise, k) => (
                <span key={exercise.id}>
                  {k > 0 && ", "}
                  <Link className="underline" to={`/courses/${course}/exercises/${exercise.id}`}>
                    {exercise.title}
                  </Link>
                </span>
              ))}
            </p>
          )}
        </>
      )}
    </>
  );
}
