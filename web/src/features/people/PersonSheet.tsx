import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { erasePerson, savePerson } from "@/api/client";
import type { PersonEdit, PersonLine } from "@/api/schema";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";
import { newPerson } from "./model";

interface Props {
  course: number;
  /** The person at hand; null for a new one. */
  person: PersonLine | null;
  sections: string[];
  onClose: () => void;
}

const ROLES = [
  { value: "student" as const, label: "Student" },
  { value: "assistant" as const, label: "Assistant" },
  { value: "instructor" as const, label: "Instructor" },
];

/** One person: added, changed, deactivated or erased. */
export function PersonSheet({ course, person, sections, onClose }: Props) {
  const queries = useQueryClient();
  const [values, setValues] = useState<PersonEdit>(person?.known ?? newPerson(""));
  const set = (patch: Partial<PersonEdit>) => setValues({ ...values, ...patch });
  const done = async () => {
    await queries.invalidateQueries({ queryKey: ["people", course] });
    await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
    onClose();
  };
  const save = useMutation({
    mutationFn: () => savePerson(course, person?.id ?? null, values),
    onSuccess: () => {
      if (person === null) say(`${values.name} is in the course.`);
      else {
        const again = () => queries.invalidateQueries({ queryKey: ["people", course] });
        const words = values.active || !person.known.active ? "is changed." : "is deactivated.";
        say(`${values.name} ${words}`, () => savePerson(course, person.id, person.known).then(again, again));
      }
      return done();
    },
  });
  const isOurs = person?.is_ours !== false;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  const text = (key: "name" | "family" | "sign_in" | "number", label: string, required: boolean) => (
    <Field label={label}>
      <input
        className={CONTROL}
        value={values[key]}
        required={required}
        disabled={!isOurs}
        autoComplete="off"
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Field>
  );
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title={person === null ? "Add a person" : person.known.name}
      lead={
        isOurs
          ? person === null
            ? "Somebody who has an account already is added by its sign-in name."
            : "Every change stands in the audit trail."
          : "They teach, or are in another course, too: name and number are theirs to change."
      }
    >
      <form className="space-y-3" onSubmit={submit}>
        <div className="grid gap-3 sm:grid-cols-2">
          {text("name", "Name, given name first", true)}
          {text("family", "Family name", false)}
          {text("sign_in", "Sign-in name", true)}
          {text("number", "Number", false)}
          <Field label="Section">
            <input
              className={CONTROL}
              value={values.section}
              list="known-sections"
              onChange={(e) => set({ section: e.target.value })}
            />
          </Field>
          <datalist id="known-sections">
            {sections.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
        </div>
        <Choice
          label="Role"
          value={values.role as "student" | "assistant" | "instructor"}
          options={ROLES}
          onChange={(role) => set({ role })}
        />
        {values.role === "assistant" && sections.length > 0 && (
          <fieldset>
            <legend className="font-medium">Looks after (none chosen: all sections)</legend>
            {sections.map((s) => (
              <label key={s} className="mr-4 inline-flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={values.looks_after.includes(s)}
                  onChange={(e) =>
                    set({
                      looks_after: e.target.checked
                        ? [...values.looks_after, s]
                        : values.looks_after.filter((k) => k !== s),
                    })
                  }
                />
                {s}
              </label>
            ))}
          </fieldset>
        )}
        {person !== null && (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={values.active}
              onChange={(e) => set({ active: e.target.checked })}
            />
            May come in (deactivated people keep their work)
          </label>
        )}
        {save.isError && <ErrorNote error={save.error} />}
        <div className="flex flex-wrap gap-2 pt-2">
          <Button type="submit" strength="strong" disabled={save.isPending}>
            {person === null ? "Add" : "Save"}
          </Button>
          {person !== null && <Erase course={course} person={person} onDone={done} />}
        </div>
      </form>
    </Sheet>
  );
}

/** Erasing asks once more, and says what goes and what stays. */
function Erase({
  course,
  person,
  onDone,
}: {
  course: number;
  person: PersonLine;
  onDone: () => Promise<void>;
}) {
  const [asks, setAsks] = useState(false);
  const erase = useMutation({
    mutationFn: () => erasePerson(course, person.id),
    onSuccess: () => {
      say("The account and its work are erased.");
      return onDone();
    },
  });
  if (!asks) {
    return (
      <Button strength="quiet" onClick={() => setAsks(true)}>
        Erase…
      </Button>
    );
  }
  return (
    <div className="w-full border-l-4 border-rust bg-tint px-3 py-2">
      <p>
        The account, {person.hand_ins} hand-ins with their verdicts, and all sign-offs of them go for good.
        What stays is the audit trail, without the name.
      </p>
      {erase.isError && <ErrorNote error={erase.error} />}
      <div className="mt-2 flex gap-2">
        <Button disabled={erase.isPending} onClick={() => erase.mutate()}>
          Erase {person.known.name}
        </Button>
        <Button strength="quiet" onClick={() => setAsks(false)}>
          Keep
        </Button>
      </div>
    </div>
  );
}
