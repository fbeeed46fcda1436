import { type ReactNode, useEffect } from "react";
import { Link } from "react-router";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import { useStored } from "@/kit/useStored";

interface Props {
  title: string;
  /** What it is: handout or key. */
  kind: string;
  back: string;
  /** Whereto that leads. */
  backTo?: string;
  children: ReactNode;
}

/** A page for paper, A4 or Letter: what is printed, with the controls above it. */
export function PaperFrame({ title, kind, back, backTo = "the exercise", children }: Props) {
  const [paper, setPaper] = useStored("zesty-paper", "A4");
  useEffect(() => {
    const style = document.createElement("style");
    style.textContent = `@page { size: ${paper}; margin: 14mm; }`;
    document.head.append(style);
    return () => style.remove();
  }, [paper]);
  return (
    <article className="paper-page" data-paper={paper}>
      <title>{`${kind} of ${title} · Zesty Gate`}</title>
      <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
        <Link className="underline" to={back}>
          Back to {backTo}
        </Link>
        <span className="grow" />
        <Choice
          label="Paper"
          value={paper}
          options={[
            { value: "A4", label: "A4" },
            { value: "Letter", label: "Letter" },
          ]}
          onChange={setPaper}
        />
        <Button strength="strong" onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <header className="ledger mb-4 flex items-end justify-between pb-2">
        <h1 className="text-2xl font-bold">{title}</h1>
        <p className="text-ink-soft">{kind}</p>
      </header>
      {children}
    </article>
  );
}
