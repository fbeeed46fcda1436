import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, makeLinks } from "@/api/client";
import type { PersonLine } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { Empty, ErrorNote, Loading } from "@/kit/notes";
import { JoinCodes } from "./JoinCodes";
import { LinksSheet } from "./LinksSheet";
import { found, sections } from "./model";
import { PeopleTable } from "./PeopleTable";
import { PersonSheet } from "./PersonSheet";
import { RosterSheet } from "./RosterSheet";

type Open = { what: "roster" } | { what: "codes" } | { what: "person"; person: PersonLine | null } | null;

/** Who is in the course, and how others come in. */
export function PeopleView({ course, isInstructor }: { course: number; isInstructor: boolean }) {
  const people = useQuery({
    queryKey: ["people", course],
    queryFn: () => answered(api.GET("/api/courses/{course}/people", { params: { path: { course } } })),
  });
  const [text, setText] = useState("");
  const [section, setSection] = useState("");
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [open, setOpen] = useState<Open>(null);
  const links = useMutation({ mutationFn: (ids: number[]) => makeLinks(course, ids) });
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError) return <ErrorNote error={people.error} onRetry={() => people.refetch()} />;
  const all = people.data.people;
  const list = found(all, text, section);
  const known = sections(all);
  const choose = (ids: number[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids) on ? next.add(id) : next.delete(id);
    setChosen(next);
  };
  const close = () => setOpen(null);
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <input
          className={`${CONTROL} !mt-0 !w-56`}
          type="search"
          placeholder="Find a person"
          aria-label="Find a person"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        {known.length > 0 && (
          <select
            className={`${CONTROL} !mt-0 !w-auto`}
            aria-label="Section"
            value={section}
            onChange={(e) => setSection(e.target.value)}
          >
            <option value="">All sections</option>
            {known.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        )}
        <span className="text-ink-soft">
          {list.length === all.length ? all.length : `${list.length} of ${all.length}`}
        </span>
        <span className="grow" />
        <Button disabled={chosen.size === 0 || links.isPending} onClick={() => links.mutate([...chosen])}>
          Password links{chosen.size > 0 && ` (${chosen.size})`}
        </Button>
        {isInstructor && (
          <>
            <Button onClick={() => setOpen({ what: "codes" })}>Join codes</Button>
            <Button onClick={() => setOpen({ what: "person", person: null })}>Add a person</Button>
            <Button strength="strong" onClick={() => setOpen({ what: "roster" })}>
              Roster
            </Button>
          </>
        )}
      </div>
      {links.isError && <ErrorNote error={links.error} />}
      {all.length < 2 && isInstructor && (
        <Empty title="Only you so far">
          Bring in a roster from your school's system, let students join with a code, or add people one by
          one.
        </Empty>
      )}
      <PeopleTable
        people={list}
        chosen={chosen}
        canEdit={isInstructor}
        onChoose={choose}
        onOpen={(person) => setOpen({ what: "person", person })}
      />
      {open?.what === "roster" && <RosterSheet course={course} onClose={close} />}
      {open?.what === "codes" && (
        <JoinCodes course={course} codes={people.data.join_codes} sections={known} onClose={close} />
      )}
      {open?.what === "person" && (
        <PersonSheet course={course} person={open.person} sections={known} onClose={close} />
      )}
      {links.data !== undefined && links.isSuccess && <LinksSheet links={links.data} onClose={links.reset} />}
    </>
  );
}
