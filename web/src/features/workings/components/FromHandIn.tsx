import { useMutation, useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import type { AttachmentForm } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";

interface Props {
  course: number;
  exercise: number;
  take: (files: AttachmentForm[]) => void;
}

/** Takes the design of somebody's hand-in as the reference. */
export function FromHandIn({ course, exercise, take }: Props) {
  const lines = useQuery({
    queryKey: ["hand-ins", course, exercise],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/hand-ins", {
          params: { path: { course, exercise } },
        }),
      ),
  });
  const chosen = useMutation({
    mutationFn: (id: number) =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}", { params: { path: { course, hand_in: id } } }),
      ),
    onSuccess: (page) =>
      take(
        page.files
          .filter((f) => f.kind === "design" && f.text !== null)
          .map((f) => ({ name: f.name, purpose: "reference", text: f.text ?? "" })),
      ),
  });
  if (!lines.isSuccess || lines.data.length === 0) return null;
  return (
    <>
      <Field
        label="From a hand-in"
        hint="Its files become the reference; the student's own stay as they are."
      >
        <select
          className={CONTROL}
          value=""
          disabled={chosen.isPending}
          onChange={(e) => chosen.mutate(Number(e.target.value))}
        >
          <option value="">Choose…</option>
          {lines.data.map((l) => (
            <option key={l.id} value={l.id}>
              {l.student}, attempt {l.cell.attempt}, {l.cell.state.replace("_", " ")}
            </option>
          ))}
        </select>
      </Field>
      {chosen.isError && <ErrorNote error={chosen.error} />}
    </>
  );
}
