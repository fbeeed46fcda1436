import { NavLink } from "react-router";
import { useRole } from "@/features/session";

const LOOK =
  "border-b-2 border-transparent px-1 py-1 hover:border-rule-strong aria-[current=page]:border-ink aria-[current=page]:font-bold";

/** The pages of a course, for those who run it. */
export function CourseTabs({ course }: { course: number }) {
  const role = useRole(course);
  if (role === null || role === "student") return null;
  return (
    <nav aria-label="Course" className="flex flex-wrap gap-4 pb-2 print:hidden">
      <NavLink end className={LOOK} to={`/courses/${course}`}>
        Pass sheet
      </NavLink>
      <NavLink className={LOOK} to={`/courses/${course}/people`}>
        People
      </NavLink>
      {role === "instructor" && (
        <NavLink className={LOOK} to={`/courses/${course}/audit`}>
          Audit trail
        </NavLink>
      )}
      <NavLink className={LOOK} to={`/courses/${course}/tools`}>
        Tools
      </NavLink>
    </nav>
  );
}
