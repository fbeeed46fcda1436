import { type KeyboardEvent, type ReactNode, useRef } from "react";
import { Link } from "react-router";
import type { Finding } from "@/api/schema";
import { useCommands } from "@/kit/commands";
import { Prose } from "@/kit/Prose";

const SEVERITY: Record<string, [string, string]> = {
  stop: ["stops the check", "border-rust"],
  marks: ["costs marks", "border-amber"],
  note: ["worth knowing", "border-rule-strong"],
};

interface Props {
  findings: Finding[];
  active: number;
  onChoose: (index: number) => void;
  /** What stands below the active finding. */
  below?: (finding: Finding) => ReactNode;
}

/** Findings in order of importance; choosing one puts the cursor on its evidence. Arrow keys go from one to the next. */
export function FindingList({ findings, active, onChoose, below }: Props) {
  const list = useRef<HTMLOListElement>(null);
  useCommands([{ title: "The next or the previous finding", group: "Findings", keys: "Up, Down" }]);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    if (step === 0) return;
    event.preventDefault();
    const next = Math.min(Math.max(active + step, 0), findings.length - 1);
    onChoose(next);
    list.current?.querySelectorAll("button")[next]?.focus();
  };
  if (findings.length === 0) {
    return <p className="text-ink-soft">Nothing to put right.</p>;
  }
  return (
    <ol ref={list} className="space-y-2" onKeyDown={onKeyDown}>
      {findings.map((finding, i) => {
        const [words, border] = SEVERITY[finding.severity] ?? [finding.severity, "border-rule"];
        return (
          <li key={`${finding.code} ${finding.file} ${finding.line}:${finding.column} ${finding.message}`}>
            <button
              type="button"
              aria-pressed={i === active}
              onClick={() => onChoose(i)}
              className={`block w-full border-l-4 px-3 py-2 text-left ${border} ${i === active ? "bg-tint" : "bg-sheet hover:bg-tint"}`}
            >
              <span className="flex flex-wrap justify-between gap-x-3 text-sm text-ink-soft">
                <span>{words}</span>
                {finding.file !== null && (
                  <span className="mono">
                    {finding.file}:{finding.line}
                  </span>
                )}
              </span>
              <span className="block font-bold">
                <Prose text={finding.message} />
              </span>
              <span className="block">
                <Prose text={finding.help} />
              </span>
              {finding.evidence?.row != null && (
                <span className="mono mt-1 block text-sm text-amber-ink">
                  {finding.evidence.cycle === null
                    ? `row ${finding.evidence.row}`
                    : `cycle ${finding.evidence.cycle}`}
                </span>
              )}
            </button>
            {i === active && (
              <div className="pl-4">
                <Link className="text-sm text-ink-soft underline" to={`/help/findings?code=${finding.code}`}>
                  More about this kind of finding
                </Link>
                {below?.(finding)}
              </div>
            )}
          </li>
        );
      })}
    </ol>
  );
}
