import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, setPassword } from "@/api/client";
import { Button } from "@/kit/Button";
import { Empty, ErrorNote, Loading } from "@/kit/notes";
import { NewPasswordField } from "./NewPasswordField";
import { useEnter } from "./useEnter";

/** Sets a password by a one-time link. */
export function PasswordLinkForm({ token }: { token: string }) {
  const navigate = useNavigate();
  const [password, setWord] = useState("");
  const owner = useQuery({
    queryKey: ["password-link", token],
    queryFn: () => answered(api.GET("/api/password-links/{token}", { params: { path: { token } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const enter = useEnter(
    () => setPassword(token, password),
    () => navigate("/", { replace: true }),
  );
  if (owner.isPending) return <Loading what="the link" />;
  if (owner.isError) {
    return (
      <Empty title="This link doesn't hold any more">
        It was used, or two weeks have gone by. Ask the instructor for a new one; if you have a password, sign
        in.
      </Empty>
    );
  }
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate(undefined);
  };
  return (
    <div className="mx-auto mt-[8vh] w-[min(30rem,100%)]">
      <title>Set a password · Zesty Gate</title>
      <h1 className="ledger pb-2 text-2xl font-bold">Set your password</h1>
      <p className="mt-3 text-ink-soft">
        For {owner.data.name}. You sign in as{" "}
        <span className="mono font-bold text-ink">{owner.data.sign_in}</span>.
      </p>
      <form className="mt-4 space-y-4" onSubmit={submit}>
        <input type="hidden" autoComplete="username" value={owner.data.sign_in} readOnly />
        <NewPasswordField label="New password" value={password} onChange={setWord} />
        {enter.isError && <ErrorNote error={enter.error} />}
        <Button type="submit" strength="strong" disabled={enter.isPending}>
          Set the password and sign in
        </Button>
      </form>
    </div>
  );
}
