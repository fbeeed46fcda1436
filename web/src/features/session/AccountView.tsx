import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answered, api, changePassword, endSession } from "@/api/client";
import { Button } from "@/kit/Button";
import { dateAndTime } from "@/kit/dates";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote, Loading } from "@/kit/notes";
import { say } from "@/kit/toast";
import { NewPasswordField } from "./NewPasswordField";
import { useEnter } from "./useEnter";
import { useStart } from "./useStart";

function PasswordForm() {
  const me = useStart().data?.me ?? null;
  const [before, setBefore] = useState("");
  const [password, setPassword] = useState("");
  const change = useEnter(
    () => changePassword(before, password),
    () => {
      setBefore("");
      setPassword("");
    },
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(undefined);
  };
  return (
    <form className="mt-3 max-w-[26rem] space-y-3" onSubmit={submit}>
      <input type="hidden" autoComplete="username" value={me?.sign_in ?? ""} readOnly />
      <Field label="Password now">
        <input
          className={CONTROL}
          type="password"
          autoComplete="current-password"
          required
          value={before}
          onChange={(e) => setBefore(e.target.value)}
        />
      </Field>
      <NewPasswordField
        label="New password"
        note="All other sessions end."
        value={password}
        onChange={setPassword}
      />
      {change.isError && <ErrorNote error={change.error} />}
      <Button type="submit" disabled={change.isPending}>
        Change the password
      </Button>
      {change.isSuccess && <p role="status">The password is changed.</p>}
    </form>
  );
}

/** Something short that a browser calls itself. */
function browserName(agent: string): string {
  const found = /(Firefox|Edg|OPR|Chrome|Safari)\/[\d.]+/.exec(agent);
  const system = /\(([^;)]+)/.exec(agent);
  const words = [found?.[1] ?? "", system?.[1] ?? ""].filter((w) => w !== "");
  return words.length > 0 ? words.join(", ") : agent.slice(0, 40) || "unknown browser";
}

function Sessions() {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ["sessions"], queryFn: () => answered(api.GET("/api/sessions")) });
  const end = useMutation({
    mutationFn: endSession,
    onSuccess: () => {
      say("That place is signed out.");
      return queries.invalidateQueries({ queryKey: ["sessions"] });
    },
  });
  if (sessions.isPending) return <Loading what="your sessions" />;
  if (sessions.isError) return <ErrorNote error={sessions.error} onRetry={() => sessions.refetch()} />;
  return (
    <ul className="mt-3 max-w-[46rem] divide-y divide-rule border-y border-rule">
      {sessions.data.map((session) => (
        <li key={session.key} className="flex flex-wrap items-center gap-3 py-2">
          <span className="grow">
            {browserName(session.agent)}
            <span className="block text-sm text-ink-soft">
              signed in {dateAndTime(session.opened_at)}, last used {dateAndTime(session.seen_at)}
            </span>
          </span>
          {session.is_this ? (
            <span className="text-ink-soft">this one</span>
          ) : (
            <Button disabled={end.isPending} onClick={() => end.mutate(session.key)}>
              End it
            </Button>
          )}
        </li>
      ))}
      {end.isError && <ErrorNote error={end.error} />}
    </ul>
  );
}

/** One's own account: password and sessions. */
export function AccountView() {
  const me = useStart().data?.me ?? null;
  if (me === null) return null;
  return (
    <>
      <title>Your account · Zesty Gate</title>
      <div className="ledger pb-2">
        <h1 className="text-2xl font-bold">{me.name}</h1>
        <p className="text-ink-soft">
          You sign in as <span className="mono">{me.sign_in}</span>.
        </p>
      </div>
      <h2 className="mt-6 text-lg font-bold">Password</h2>
      <PasswordForm />
      <h2 className="mt-8 text-lg font-bold">Where you are signed in</h2>
      <Sessions />
    </>
  );
}
