import { type FormEvent, useState } from "react";
import { setUp } from "@/api/client";
import { Button } from "@/kit/Button";
import { zone } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { NOBODY, PersonFields } from "./PersonFields";
import { useEnter } from "./useEnter";

/** Nobody is there yet: the first instructor and the first course. */
export function SetUpForm() {
  const [person, setPerson] = useState(NOBODY);
  const [course, setCourse] = useState("");
  const enter = useEnter(() => setUp({ ...person, course, zone: zone() }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate(undefined);
  };
  return (
    <div className="mx-auto mt-[4vh] w-[min(34rem,100%)]">
      <title>Set up · Zesty Gate</title>
      <h1 className="ledger pb-2 text-2xl font-bold">Set up Zesty Gate</h1>
      <p className="mt-3 text-ink-soft">
        This installation is empty. Make your own account as its first instructor, and a first course; people
        and exercises come next.
      </p>
      <form className="mt-4 space-y-4" onSubmit={submit}>
        <PersonFields values={person} onChange={setPerson} />
        <Field label="Title of the first course">
          <input className={CONTROL} value={course} required onChange={(e) => setCourse(e.target.value)} />
        </Field>
        {enter.isError && <ErrorNote error={enter.error} />}
        <Button type="submit" strength="strong" disabled={enter.isPending}>
          {enter.isPending ? "Setting up…" : "Set up"}
        </Button>
      </form>
    </div>
  );
}
