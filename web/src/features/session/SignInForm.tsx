import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { signIn } from "@/api/client";
import type { DemoAccounts } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { useEnter } from "./useEnter";

export function SignInForm({ demo }: { demo: DemoAccounts | null }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const enter = useEnter(() => signIn(name.trim(), password));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate(undefined);
  };
  return (
    <div className="mx-auto mt-[8vh] w-[min(30rem,100%)]">
      <h1 className="ledger pb-2 text-2xl font-bold">Sign in</h1>
      <form className="mt-4 space-y-4" onSubmit={submit}>
        <Field label="Name">
          <input
            className={CONTROL}
            value={name}
            autoComplete="username"
            required
            onChange={(e) => setName(e.target.value)}
          />
        </Field>
        <Field label="Password">
          <input
            className={CONTROL}
            type="password"
            value={password}
            autoComplete="current-password"
            required
            onChange={(e) => setPassword(e.target.value)}
          />
        </Field>
        {enter.isError && <ErrorNote error={enter.error} />}
        <Button type="submit" strength="strong" disabled={enter.isPending}>
          {enter.isPending ? "Signing in…" : "Sign in"}
        </Button>
      </form>
      <p className="mt-4 text-ink-soft">
        New here with a join code?{" "}
        <Link className="underline" to="/join">
          Join a course
        </Link>
      </p>
      {demo !== null && (
        <section className="mt-8 border-t border-rule pt-3" aria-label="Demo accounts">
          <p className="text-ink-soft">Demo data: choose who to be.</p>
          <ul className="mt-2 flex flex-wrap gap-2">
            {demo.accounts.map((account) => (
              <li key={account.name}>
                <Button
                  onClick={() => {
                    setName(account.name);
                    setPassword(demo.password);
                  }}
                >
                  {account.role} <span className="mono text-ink-soft">{account.name}</span>
                </Button>
              </li>
            ))}
          </ul>
          <p className="mt-2 text-sm text-ink-soft">
            The password is <code>{demo.password}</code>.
          </p>
        </section>
      )}
    </div>
  );
}
