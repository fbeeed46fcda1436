import { useQueryClient } from "@tanstack/react-query";
import { Moon, Sun } from "lucide-react";
import { Link, Outlet, useMatches } from "react-router";
import { signOut } from "@/api/client";
import type { Start } from "@/api/schema";
import { SetUpForm, SignInForm, useStart } from "@/features/session";
import { Button } from "@/kit/Button";
import { ErrorNote, Loading } from "@/kit/notes";
import { useOnline } from "@/kit/useOnline";
import { useTheme } from "@/kit/useTheme";

/** The page itself, or how to come in first. */
function Page({ start }: { start: Start }) {
  const isPublic = useMatches().some(
    (m) => (m.handle as { isPublic?: boolean } | undefined)?.isPublic === true,
  );
  if (start.needs_set_up) return <SetUpForm />;
  if (start.me === null && !isPublic) return <SignInForm demo={start.demo} />;
  return <Outlet />;
}

/** The frame of every page: the name, who is signed in, and the page itself. */
export function Shell() {
  const start = useStart();
  const queries = useQueryClient();
  const { theme, toggle } = useTheme();
  const online = useOnline();
  const me = start.data?.me ?? null;
  const leave = async () => {
    await signOut();
    // Nothing of one person stays for the next.
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "start" });
    await queries.invalidateQueries({ queryKey: ["start"] });
  };
  return (
    <div className="mx-auto min-h-screen max-w-[84rem] px-4 pb-16 sm:px-6">
      <a href="#page" className="sr-only focus:not-sr-only">
        Skip to the page
      </a>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2 print:hidden">
        <Link to="/" className="flex items-center gap-2 text-lg font-bold">
          <img src="/mark.svg" alt="" width="28" height="28" />
          Zesty Gate
        </Link>
        <span className="grow" />
        {me !== null && (
          <Link className="hidden px-2 py-1.5 text-ink-soft underline sm:inline" to="/account">
            {me.name}
          </Link>
        )}
        {me !== null && (
          <Link className="px-2 py-1.5 underline" to="/help/findings">
            Help
          </Link>
        )}
        <Button strength="quiet" onClick={toggle} aria-label={theme === "dark" ? "Light page" : "Dark page"}>
          {theme === "dark" ? <Sun size={18} /> : <Moon size={18} />}
        </Button>
        {me !== null && (
          <Button strength="quiet" onClick={leave}>
            Sign out
          </Button>
        )}
      </header>
      {!online && (
        <p role="status" className="border-b border-rule bg-amber-wash px-3 py-1.5 text-amber-ink">
          No network. What is on the page stays; changes have to wait until it is back.
        </p>
      )}
      <main id="page" className="pt-4">
        {start.isPending && <Loading what="the page" />}
        {start.isError && <ErrorNote error={start.error} onRetry={() => start.refetch()} />}
        {start.isSuccess && <Page start={start.data} />}
      </main>
      <footer className="mt-12 border-t border-rule pt-2 text-sm text-ink-soft print:hidden">
        <Link className="underline" to="/about">
          About Zesty Gate
        </Link>
      </footer>
    </div>
  );
}
