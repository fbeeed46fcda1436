import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { importExercise, saveExercise } from "@/api/client";
import type { ExerciseSaved } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, FILE, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";

interface Props {
  course: number;
  /** Null to add a new one. */
  exercise: number | null;
  text: string;
  /** The version that saving changes; null for a new one. */
  version: number | null;
}

/** Opens the exercise file; saving it makes a draft. */
export function ExerciseFileButton({ course, exercise, text, version }: Props) {
  const [open, setOpen] = useState(false);
  const [draft, setDraft] = useState(text);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const arrived = async (saved: ExerciseSaved) => {
    await queries.invalidateQueries();
    if (saved.warnings.length === 0) setOpen(false);
    navigate(`/courses/${course}/exercises/${saved.id}`);
  };
  const save = useMutation({
    mutationFn: () => saveExercise(course, exercise, draft, version),
    onSuccess: arrived,
  });
  const bring = useMutation({ mutationFn: (zip: File) => importExercise(course, zip), onSuccess: arrived });
  const isNew = exercise === null;
  const show = (next: boolean) => {
    // What was typed stays when the sheet is closed and opened again.
    if (next && draft.trim() === "") setDraft(text);
    setOpen(next);
  };
  return (
    <>
      <Button onClick={() => show(true)}>{isNew ? "Add from a file" : "Exercise file"}</Button>
      <Sheet
        open={open}
        onOpenChange={show}
        title={isNew ? "Add an exercise from its file" : "Exercise file"}
        lead={
          isNew
            ? "Paste or open an exercise file (TOML)."
            : "Saving makes a draft; students see it when it is published."
        }
      >
        <form
          className="space-y-3"
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate();
          }}
        >
          <Field label="File">
            <textarea
              className={`${CONTROL} mono h-[46vh] text-sm`}
              spellCheck={false}
              required
              value={draft}
              onChange={(e) => setDraft(e.target.value)}
            />
          </Field>
          <Field
            label="Or open one from this computer"
            {...(isNew && { hint: "A file (.toml), or a zip with the file and what lies beside it." })}
          >
            <input
              type="file"
              accept={isNew ? ".toml,.zip" : ".toml"}
              className={FILE}
              onChange={async (e) => {
                const file = e.target.files?.[0];
                if (file?.name.toLowerCase().endsWith(".zip")) bring.mutate(file);
                else if (file) setDraft(await file.text());
              }}
            />
          </Field>
          {bring.isError && <ErrorNote error={bring.error} />}
          {save.isError && <ErrorNote error={save.error} />}
          {save.data?.warnings.map((warning) => (
            <p key={warning} className="border-l-4 border-amber bg-tint px-3 py-2">
              {warning}
            </p>
          ))}
          <Button type="submit" strength="strong" disabled={save.isPending}>
            {isNew ? "Add it" : "Save the draft"}
          </Button>
        </form>
      </Sheet>
    </>
  );
}
