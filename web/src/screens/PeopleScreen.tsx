import { useState } from "react";
import { CourseSheet, CourseTabs } from "@/features/course";
import { PeopleView } from "@/features/people";
import { useRole, useStart } from "@/features/session";
import { Button } from "@/kit/Button";
import { useKey } from "./useKey";

/** The people of a course. */
export function PeopleScreen() {
  const course = useKey("course");
  const role = useRole(course);
  const me = useStart().data?.me ?? null;
  const own = me?.courses.find((c) => c.id === course);
  const title = own?.title ?? "";
  const [open, setOpen] = useState<"rename" | "copy" | null>(null);
  return (
    <>
      <title>{`People · ${title} · Zesty Gate`}</title>
      <CourseTabs course={course} />
      <div className="ledger flex flex-wrap items-end gap-3 pb-2">
        <div className="grow">
          <h1 className="text-2xl font-bold">People</h1>
          <p className="text-ink-soft">{title}</p>
        </div>
        {role === "instructor" && (
          <>
            <Button strength="quiet" onClick={() => setOpen("rename")}>
              Title and zone…
            </Button>
            {me?.teaches && (
              <Button strength="quiet" onClick={() => setOpen("copy")}>
                Copy for next term…
              </Button>
            )}
          </>
        )}
      </div>
      <PeopleView course={course} isInstructor={role === "instructor"} />
      {open !== null && (
        <CourseSheet
          what={{ kind: open, course, title, zone: own?.zone ?? "" }}
          onClose={() => setOpen(null)}
        />
      )}
    </>
  );
}
