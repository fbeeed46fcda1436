import { useQueryClient } from "@tanstack/react-query";
import { CircleHelp, Moon, Sun } from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from "react";
import { Link, Outlet, ScrollRestoration, useLocation, useMatches, useNavigate } from "react-router";
import { signOut } from "@/api/client";
import type { PassSheet, Start } from "@/api/schema";
import { ShortcutSheet, useShortcuts } from "@/features/commands";
import { HelpSheet } from "@/features/help";
import { SetUpForm, SignInForm, useStart } from "@/features/session";
import { Button } from "@/kit/Button";
import { type Command, useCommands } from "@/kit/commands";
import { ErrorNote, Loading } from "@/kit/notes";
import { Toasts } from "@/kit/Toasts";
import { useOnline } from "@/kit/useOnline";
import { useTheme } from "@/kit/useTheme";
import { useArrival } from "./useArrival";

// It comes with a library of its own, which no page waits for, and which is there before anybody types into it.
const palette = () => import("@/features/commands/CommandPalette");
const CommandPalette = lazy(async () => ({ default: (await palette()).CommandPalette }));

/** The page itself, or how to come in first. */
function Page({ start }: { start: Start }) {
  const isPublic = useMatches().some(
    (m) => (m.handle as { isPublic?: boolean } | undefined)?.isPublic === true,
  );
  if (start.needs_set_up) return <SetUpForm />;
  if (start.me === null && !isPublic) return <SignInForm demo={start.demo} />;
  return <Outlet />;
}

/** The course in the address. */
function useCourse(): number | null {
  const found = /^\/courses\/(\d+)/.exec(useLocation().pathname)?.[1];
  return found === undefined ? null : Number(found);
}

/** Where one can go in a course, by role. */
function placesOf(course: { id: number; title: string; role: string }, several: boolean) {
  const of = several ? ` of ${course.title}` : "";
  const staff = course.role !== "student";
  const places: [string, string][] = [[staff ? `Pass sheet${of}` : `Your exercises${of}`, ""]];
  if (staff) places.push([`People${of}`, "/people"]);
  if (course.role === "instructor") places.push([`Audit trail${of}`, "/audit"]);
  if (staff) places.push([`Tools${of}`, "/tools"]);
  return places.map(([title, rest]): [string, string] => [title, `/courses/${course.id}${rest}`]);
}

/** The frame of every page: the name, who is signed in, and the page itself. */
export function Shell() {
  const start = useStart();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { theme, toggle } = useTheme();
  const online = useOnline();
  const course = useCourse();
  const [open, setOpen] = useState<"commands" | "help" | "keys" | null>(null);
  const me = start.data?.me ?? null;
  const page = useRef<HTMLElement>(null);
  useArrival(useCallback(() => page.current?.focus({ preventScroll: true }), []));
  useShortcuts();
  const isIn = me !== null;
  useEffect(() => {
    if (!isIn) return;
    const wait = setTimeout(() => palette().catch(() => {}), 1_000);
    return () => clearTimeout(wait);
  }, [isIn]);
  const leave = async () => {
    await signOut();
    // Nothing of one person stays for the next.
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "start" });
    await queries.invalidateQueries({ queryKey: ["start"] });
  };
  const courses = me?.courses ?? [];
  const places: [string, string][] = [
    ...courses.flatMap((c) => placesOf(c, courses.length > 1)),
    ["Your account", "/account"],
    ["Findings and what they mean", "/help/findings"],
    ["About Zesty Gate", "/about"],
  ];
  const everywhere: Command[] = [
    { title: "List all commands", group: "Everywhere", keys: "Ctrl+K", run: () => setOpen("commands") },
    { title: "Explain this page", group: "Everywhere", keys: "?", run: () => setOpen("help") },
    { title: "Show all keys", group: "Everywhere", keys: "Ctrl+/", run: () => setOpen("keys") },
    {
      title: theme === "dark" ? "Make the page light" : "Make the page dark",
      group: "Everywhere",
      run: toggle,
    },
    { title: "Sign out", group: "Everywhere", run: leave },
    ...places.map(([title, path]) => ({ title, group: "Go to", run: () => navigate(path) })),
  ];
  useCommands(me === null ? [] : everywhere);
  const sheet = (which: typeof open) => (shown: boolean) => setOpen(shown ? which : null);
  return (
    <div className="mx-auto min-h-screen max-w-[84rem] px-4 pb-16 sm:px-6">
      <a href="#page" className="sr-only focus:not-sr-only">
        Skip to the page
      </a>
      <header className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-rule py-2 print:hidden sm:gap-x-4">
        <Link to="/" className="flex items-center gap-2 text-lg font-bold">
          <img src="/mark.svg" alt="" width="28" height="28" />
          Zesty Gate
        </Link>
        <span className="grow" />
        {me !== null && (
          <>
            <span className="hidden sm:inline">
              <Button className="text-ink-soft" onClick={() => setOpen("commands")}>
                Do or find <kbd className="mono text-sm">Ctrl+K</kbd>
              </Button>
            </span>
            <Link className="hidden px-2 py-1.5 text-ink-soft underline sm:inline" to="/account">
              {me.name}
            </Link>
            <Link className="px-2 py-1.5 underline" to="/help/findings">
              Findings
            </Link>
            <Button strength="quiet" onClick={() => setOpen("help")} aria-label="Explain this page">
              <CircleHelp size={18} />
            </Button>
          </>
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
      <main id="page" ref={page} tabIndex={-1} className="pt-4 outline-none">
        {start.isPending && <Loading what="the page" />}
        {start.isError && <ErrorNote error={start.error} onRetry={() => start.refetch()} />}
        {start.isSuccess && <Page start={start.data} />}
      </main>
      <footer className="mt-12 border-t border-rule pt-2 text-sm text-ink-soft print:hidden">
        <Link className="underline" to="/about">
          About Zesty Gate
        </Link>
      </footer>
      {open === "commands" && (
        <Suspense fallback={null}>
          <CommandPalette
            open
            onOpenChange={sheet("commands")}
            course={course}
            sheet={queries.getQueryData<PassSheet>(["pass-sheet", course])}
          />
        </Suspense>
      )}
      <HelpSheet open={open === "help"} onOpenChange={sheet("help")} />
      <ShortcutSheet open={open === "keys"} onOpenChange={sheet("keys")} />
      <Toasts />
      <ScrollRestoration />
    </div>
  );
}
