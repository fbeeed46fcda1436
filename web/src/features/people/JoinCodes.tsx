import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { endJoinCode, makeJoinCode } from "@/api/client";
import type { JoinCodeInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import { dateOnly } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Qr } from "@/kit/Qr";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";

interface Props {
  course: number;
  codes: JoinCodeInfo[];
  sections: string[];
  onClose: () => void;
}

/** Codes with which students join by themselves: bounded, and ended at will. */
export function JoinCodes({ course, codes, sections, onClose }: Props) {
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: ["people", course] });
  const [section, setSection] = useState("");
  const [uses, setUses] = useState(40);
  const [days, setDays] = useState(14);
  const make = useMutation({
    mutationFn: () => makeJoinCode(course, { section, uses, days }),
    onSuccess: again,
  });
  const end = useMutation({
    mutationFn: (id: number) => endJoinCode(course, id),
    onSuccess: () => {
      say("Nobody joins by that code any more.");
      return again();
    },
  });
  const number = (label: string, max: number, value: number, onChange: (value: number) => void) => (
    <Field label={label}>
      <input
        className={CONTROL}
        type="number"
        min={1}
        max={max}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      />
    </Field>
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Join codes"
      lead="Students who have the code join the course by themselves, with an account of their own."
    >
      <ul className="space-y-4">
        {codes.map((code) => {
          const address = `${window.location.origin}/join/${code.code}`;
          return (
            <li key={code.id} className="flex flex-wrap items-center gap-4 border border-rule p-3">
              <Qr text={address} size={132} />
              <div className="flex-1">
                <p className="mono text-2xl font-bold">{code.code}</p>
                <p className="mono break-all text-sm text-ink-soft">{address}</p>
                <p className="text-sm">
                  {code.section === "" ? "No section" : `Section ${code.section}`}, {code.uses_left} may still
                  join, until {dateOnly(code.expires_at)}
                </p>
                <Button className="mt-2" disabled={end.isPending} onClick={() => end.mutate(code.id)}>
                  End it
                </Button>
              </div>
            </li>
          );
        })}
        {codes.length === 0 && <li className="text-ink-soft">No code holds at the moment.</li>}
      </ul>
      {end.isError && <ErrorNote error={end.error} />}
      <form className="mt-5 flex flex-wrap items-end gap-3 border-t border-rule pt-4" onSubmit={submit}>
        <Field label="Section">
          <input
            className={CONTROL}
            value={section}
            list="join-sections"
            onChange={(e) => setSection(e.target.value)}
          />
        </Field>
        <datalist id="join-sections">
          {sections.map((s) => (
            <option key={s} value={s} />
          ))}
        </datalist>
        {number("People", 1000, uses, setUses)}
        {number("Days", 120, days, setDays)}
        <Button type="submit" strength="strong" disabled={make.isPending}>
          Make a code
        </Button>
      </form>
      {make.isError && <ErrorNote error={make.error} />}
    </Sheet>
  );
}
