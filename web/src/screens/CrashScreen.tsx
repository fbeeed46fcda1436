import { useRouteError } from "react-router";
import { Button } from "@/kit/Button";

/** Our own fault in the page: said plainly, with the way back. Nothing on the server is touched by it. */
export function CrashScreen() {
  const error = useRouteError();
  return (
    <div role="alert" className="mx-auto mt-[10vh] w-[min(34rem,92vw)]">
      <h1 className="ledger pb-2 text-2xl font-bold">This page failed</h1>
      <p className="mt-3">
        The fault is ours; what was handed in or saved is safe. Load the page again, and tell the instructor
        if it stays.
      </p>
      <p className="mono mt-2 text-sm text-ink-soft">
        {error instanceof Error ? error.message : String(error)}
      </p>
      <Button className="mt-4" strength="strong" onClick={() => window.location.reload()}>
        Load again
      </Button>
    </div>
  );
}
