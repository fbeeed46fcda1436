import { useState } from "react";
import { Link, Navigate, useSearchParams } from "react-router";
import { CourseSheet } from "@/features/course";
import { useStart } from "@/features/session";
import { Button } from "@/kit/Button";
import { Empty } from "@/kit/notes";

/** The pass sheet is the home page; with several courses, a choice first. */
export function CourseHome() {
  const me = useStart().data?.me ?? null;
  const [makes, setMakes] = useState(false);
  // The list is asked for where there would be no choice.
  const isAsked = useSearchParams()[0].has("all");
  const courses = me?.courses ?? [];
  const [only] = courses;
  if (only === undefined && me?.teaches !== true) {
    return (
      <Empty title="No course yet">
        Ask the instructor to add you to one, or <Link to="/join">join with a code</Link>.
      </Empty>
    );
  }
  if (only !== undefined && courses.length === 1 && !isAsked) {
    return <Navigate to={`/courses/${only.id}`} replace />;
  }
  return (
    <>
      <div className="ledger flex items-end gap-3 pb-2">
        <h1 className="grow text-2xl font-bold">Courses</h1>
        {me?.teaches && (
          <Button strength="strong" onClick={() => setMakes(true)}>
            New course
          </Button>
        )}
      </div>
      <ul className="mt-3 space-y-1">
        {courses.map((course) => (
          <li key={course.id}>
            <Link className="underline" to={`/courses/${course.id}`}>
              {course.title}
            </Link>{" "}
            <span className="text-ink-soft">as {course.role}</span>
          </li>
        ))}
      </ul>
      {makes && <CourseSheet what={{ kind: "new" }} onClose={() => setMakes(false)} />}
    </>
  );
}
