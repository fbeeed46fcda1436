import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, joinCourse } from "@/api/client";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { NOBODY, PersonFields } from "./PersonFields";
import { useEnter } from "./useEnter";
import { useStart } from "./useStart";

/** Joins a course by its code: as oneself, or with a new account. */
export function JoinForm({ code: given }: { code: string }) {
  const navigate = useNavigate();
  const me = useStart().data?.me ?? null;
  const [code, setCode] = useState(given);
  const [asked, setAsked] = useState(given);
  const [person, setPerson] = useState(NOBODY);
  const target = useQuery({
    queryKey: ["join-code", asked],
    queryFn: () => answered(api.GET("/api/join-codes/{code}", { params: { path: { code: asked } } })),
    enabled: asked !== "",
    staleTime: 60_000,
  });
  const enter = useEnter(
    () => joinCourse({ code: asked, person: me === null ? person : null }),
    () => navigate("/", { replace: true }),
  );
  const look = (event: FormEvent) => {
    event.preventDefault();
    setAsked(code.trim());
  };
  const join = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate(undefined);
  };
  return (
    <div className="mx-auto mt-[6vh] w-[min(30rem,100%)]">
      <title>Join a course · Zesty Gate</title>
      <h1 className="ledger pb-2 text-2xl font-bold">Join a course</h1>
      {!target.isSuccess && (
        <form className="mt-4 space-y-4" onSubmit={look}>
          <Field label="Join code" hint="The instructor shows it: two groups of five signs.">
            <input
              className={`${CONTROL} mono`}
              value={code}
              required
              autoComplete="off"
              spellCheck={false}
              onChange={(e) => setCode(e.target.value)}
            />
          </Field>
          {target.isError && <ErrorNote error={target.error} />}
          <Button type="submit" strength="strong" disabled={target.isFetching}>
            Look it up
          </Button>
        </form>
      )}
      {target.isSuccess && (
        <form className="mt-4 space-y-4" onSubmit={join}>
          <p>
            The code leads to <strong>{target.data.title}</strong>.
          </p>
          {me === null ? (
            <PersonFields values={person} onChange={setPerson} />
          ) : (
            <p>You join as {me.name}.</p>
          )}
          {enter.isError && <ErrorNote error={enter.error} />}
          <Button type="submit" strength="strong" disabled={enter.isPending}>
            Join
          </Button>
        </form>
      )}
    </div>
  );
}
