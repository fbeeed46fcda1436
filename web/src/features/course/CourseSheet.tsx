import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { changeCourse, makeCourse } from "@/api/client";
import { Button } from "@/kit/Button";
import { zone as ownZone } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";

interface Props {
  /** What is made, or changed. */
  what: { kind: "new" } | { kind: "copy" | "rename"; course: number; title: string; zone: string };
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
    title: "Title and time zone",
    lead: "The title stands on the pass sheet and on handouts; due times are on the clock of the zone.",
    done: "Save",
  },
};

/** A course is made, copied or given another title. */
export function CourseSheet({ what, onClose }: Props) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [title, setTitle] = useState(what.kind === "new" ? "" : what.title);
  const [zone, setZone] = useState(what.kind === "new" ? ownZone() : what.zone);
  const words = WORDS[what.kind];
  const save = useMutation({
    mutationFn: async () => {
      if (what.kind === "rename") {
        await changeCourse(what.course, title, zone);
        return what.course;
      }
      return (await makeCourse(title, what.kind === "copy" ? what.course : null, zone)).id;
    },
    onSuccess: async (course) => {
      await queries.invalidateQueries({ queryKey: ["start"] });
      await queries.invalidateQueries({ predicate: (q) => q.queryKey[1] === course });
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
        <Field
          label="Time zone"
          hint="Due times are typed on its clock; what was set stays at the moment that it is."
        >
          <input
            className={CONTROL}
            list="zones"
            value={zone}
            required
            spellCheck={false}
            onChange={(e) => setZone(e.target.value)}
          />
        </Field>
        <datalist id="zones">
          {Intl.supportedValuesOf("timeZone").map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {save.isError && <ErrorNote error={save.error} />}
        <Button type="submit" strength="strong" disabled={save.isPending}>
          {words.done}
        </Button>
      </form>
    </Sheet>
  );
}
