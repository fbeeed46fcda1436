import { AuditView, CourseTabs } from "@/features/course";
import { useStart } from "@/features/session";
import { useKey } from "./useKey";

/** The audit trail of a course. */
export function AuditScreen() {
  const course = useKey("course");
  const title = useStart().data?.me?.courses.find((c) => c.id === course)?.title ?? "";
  return (
    <>
      <title>{`Audit trail · ${title} · Zesty Gate`}</title>
      <CourseTabs course={course} />
      <div className="ledger pb-2">
        <h1 className="text-2xl font-bold">Audit trail</h1>
        <p className="text-ink-soft">{title}</p>
      </div>
      <AuditView course={course} />
    </>
  );
}
