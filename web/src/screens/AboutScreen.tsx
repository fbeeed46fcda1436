import { useQuery } from "@tanstack/react-query";
import { notices } from "@/api/client";
import { ErrorNote, Loading } from "@/kit/notes";
import { Trail } from "@/kit/Trail";

/** What the program is, and whose work it is built with. */
export function AboutScreen() {
  const found = useQuery({ queryKey: ["notices"], queryFn: notices, staleTime: Number.POSITIVE_INFINITY });
  return (
    <>
      <title>About · Zesty Gate</title>
      <Trail to={[["Start", "/"]]} here="About" />
      <div className="ledger mb-4 pb-2">
        <h1 className="text-2xl font-bold">About Zesty Gate</h1>
        <p className="text-ink-soft">Version {__VERSION__}</p>
      </div>
      <p className="mb-3 max-w-prose">
        Zesty Gate checks digital designs against what an exercise expects, and shows where and why they
        differ. You may use, change and share it under the MIT licence or the Apache licence, version 2.0,
        whichever you prefer.
      </p>
      <p className="mb-3 max-w-prose">
        It runs on the machine it is installed on and asks no other: hand-ins, names and verdicts stay there.
      </p>
      <h2 className="mb-1 text-lg font-bold">Packages it is built with</h2>
      {found.isPending && <Loading what="the notices" />}
      {found.isError && <ErrorNote error={found.error} onRetry={() => found.refetch()} />}
      {found.isSuccess && (
        <section
          aria-label="Packages and their licences"
          tabIndex={0}
          className="max-h-[32rem] overflow-auto border border-rule p-3"
        >
          <pre className="whitespace-pre-wrap font-mono text-sm">{found.data}</pre>
        </section>
      )}
    </>
  );
}
