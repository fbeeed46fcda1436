import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { makeCourse, renameCourse } from "@/api/client";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";

interface Props {
  /** What is made, or changed. */
  what: { kind: "new" } | { kind: "copy" | "rename"; course: number; title: string };
  onClose: () => void;
}

const WORDS = {
  new: { title: "New course", lead: "It begins without exercises; you are its instructor.", done: "Make it" },
  copy: {
    title: "Copy for next term",
    lead: "The exercises come along as they are now; people and hand-ins don't.",
    done: "Copy it",
  },
  rename: {
    title: "Title of the course",
    lead: "It stands on the pass sheet and on handouts.",
    done: "Save",
  },
};

/** A course is made, copied or given another title. */
export function CourseSheet({ what, onClose }: Props) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [title, setTitle] = useState(what.kind === "new" ? "" : what.title);
  const words = WORDS[what.kind];
  const save = useMutation({
    mutationFn: async () => {
      if (what.kind === "rename") {
        await renameCourse(what.course, title);
        return what.course;
      }
      return (await makeCourse(title, what.kind === "copy" ? what.course : null)).id;
    },
    onSuccess: async (course) => {
      await queries.invalidateQueries({ queryKey: ["start"] });
      await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
      onClose();
      navigate(`/courses/${course}`);
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Sheet open onOpenChange={onClose} title={words.title} lead={words.lead}>
      <form className="space-y-4" onSubmit={submit}>
        <Field label="Title">
          <input
            className={CONTROL}
            value={title}
            required
            maxLength={120}
            onChange={(e) => setTitle(e.target.value)}
          />
        </Field>
        {save.isError && <ErrorNote error={save.error} />}
        <Button type="submit" strength="strong" disabled={save.isPending}>
          {words.done}
        </Button>
      </form>
    </Sheet>
  );
}
