import { Link, useLocation } from "react-router";
import { Sheet } from "@/kit/Sheet";
import { helpFor } from "./pages";

/** What the page is for and what can be done on it. */
export function HelpSheet({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { title, sentences, links } = helpFor(useLocation().pathname);
  return (
    <Sheet open={open} onOpenChange={onOpenChange} title={title} lead="What this page is for.">
      <ol className="list-decimal space-y-2 pl-6">
        {sentences.map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ol>
      <p className="mt-4 text-ink-soft">
        <kbd className="mono">Ctrl+K</kbd> lists everything that can be done from here,{" "}
        <kbd className="mono">Ctrl+/</kbd> all keys.
        {links.map(([name, path]) => (
          <span key={path}>
            {" "}
            <Link className="underline" to={path} onClick={() => onOpenChange(false)}>
              {name}
            </Link>
          </span>
        ))}
      </p>
    </Sheet>
  );
}
