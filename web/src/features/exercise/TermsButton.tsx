import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { saveTerms } from "@/api/client";
import type { StudentRef, TermsAsk, TermsInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import { zone } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";
import { Extensions } from "./Extensions";
import { SHOWN } from "./terms";

interface Props {
  course: number;
  exercise: number;
  terms: TermsInfo;
  students: StudentRef[];
}

/** Terms as they are typed. */
function asked({ release, due, attempts, refuses_late, shown, extensions }: TermsInfo): TermsAsk {
  const list = extensions.map((e) => ({ person: e.person, section: e.section, due: e.due }));
  return { release, due, attempts, refuses_late, shown, extensions: list };
}

function Form({ course, exercise, terms, students, onClose }: Props & { onClose: () => void }) {
  const queries = useQueryClient();
  const [values, setValues] = useState(() => asked(terms));
  const set = (patch: Partial<TermsAsk>) => setValues({ ...values, ...patch });
  const save = useMutation({
    mutationFn: () => saveTerms(course, exercise, values),
    onSuccess: async () => {
      const again = () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "start" });
      say("The times are set.", () => saveTerms(course, exercise, asked(terms)).then(again, again));
      await again();
      onClose();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  const time = (key: "release" | "due", label: string, hint: string) => (
    <Field label={label} hint={hint}>
      <input
        className={CONTROL}
        type="datetime-local"
        value={values[key] ?? ""}
        onChange={(e) => set({ [key]: e.target.value === "" ? null : e.target.value })}
      />
    </Field>
  );
  const due = values.due ?? null;
  return (
    <form className="space-y-4" onSubmit={submit}>
      <div className="grid gap-3 sm:grid-cols-2">
        {time("release", "Released", "Empty: at once when it is published.")}
        {time("due", "Due", "Empty: never.")}
        <Field label="Attempts" hint="Empty: as many as wanted.">
          <input
            className={CONTROL}
            type="number"
            min={1}
            max={1000}
            value={values.attempts ?? ""}
            onChange={(e) => set({ attempts: e.target.value === "" ? null : Number(e.target.value) })}
          />
        </Field>
        <Field label="After the due time">
          <select
            className={CONTROL}
            value={values.refuses_late ? "refused" : "late"}
            onChange={(e) => set({ refuses_late: e.target.value === "refused" })}
          >
            <option value="late">Hand-ins are taken, marked as late</option>
            <option value="refused">Hand-ins are refused</option>
          </select>
        </Field>
      </div>
      <Field
        label="What students read of a verdict"
        hint={SHOWN.find((s) => s.value === values.shown)?.effect ?? ""}
      >
        <select className={CONTROL} value={values.shown} onChange={(e) => set({ shown: e.target.value })}>
          {SHOWN.map((s) => (
            <option key={s.value} value={s.value}>
              {s.label}
            </option>
          ))}
        </select>
      </Field>
      {due !== null && (
        <Extensions
          list={values.extensions}
          due={due}
          students={students}
          onChange={(extensions) => set({ extensions })}
        />
      )}
      <p className="text-sm text-ink-soft">
        Times are on the clock of the course, {terms.zone}
        {terms.zone !== zone() && `; yours is in ${zone()}`}. No verdict becomes stale by a change here.
      </p>
      {save.isError && <ErrorNote error={save.error} />}
      <Button type="submit" strength="strong" disabled={save.isPending}>
        Save
      </Button>
    </form>
  );
}

/** When an exercise is worked at, how often, and what students read of verdicts. */
export function TermsButton(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button strength="quiet" onClick={() => setOpen(true)}>
        Times…
      </Button>
      {open && (
        <Sheet
          open
          onOpenChange={setOpen}
          title="Times and attempts"
          lead="When students see the exercise, when it is due, and what they read of a verdict."
        >
          <Form {...props} onClose={() => setOpen(false)} />
        </Sheet>
      )}
    </>
  );
}
