import { useMutation, useQueryClient } from "@tanstack/react-query";
import { countNewest } from "@/api/client";
import { Choice } from "@/kit/Choice";
import { ErrorNote } from "@/kit/notes";

/** Which attempt of a student stands on the sheet: an instructor's choice for the course. */
export function Counting({ course, newest }: { course: number; newest: boolean }) {
  const queries = useQueryClient();
  const change = useMutation({
    mutationFn: (value: "best" | "newest") => countNewest(course, value === "newest"),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["pass-sheet", course] }),
  });
  return (
    <div className="flex flex-wrap items-center gap-2 pt-3 text-sm print:hidden">
      <span className="text-ink-soft">What counts is</span>
      <Choice
        label="Which attempt counts"
        value={newest ? "newest" : "best"}
        options={[
          { value: "best", label: "the best attempt" },
          { value: "newest", label: "the newest" },
        ]}
        onChange={(value) => change.mutate(value)}
        disabled={change.isPending}
      />
      {change.isError && <ErrorNote error={change.error} />}
    </div>
  );
}
