import { Link, Navigate } from "react-router";
import { useStart } from "@/features/session";
import { Empty } from "@/kit/notes";

/** The pass sheet is the home page; with several courses, a choice first. */
export function CourseHome() {
  const courses = useStart().data?.me?.courses ?? [];
  const [only] = courses;
  if (only === undefined) {
    return <Empty title="No course yet">Ask the instructor to add you to one.</Empty>;
  }
  if (courses.length === 1) return <Navigate to={`/courses/${only.id}`} replace />;
  return (
    <>
      <h1 className="ledger pb-2 text-2xl font-bold">Courses</h1>
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
    </>
  );
}
