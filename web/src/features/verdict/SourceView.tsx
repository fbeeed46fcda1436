import { useEffect, useRef } from "react";
import type { FileText, Finding } from "@/api/types";

interface Props {
  file: FileText;
  findings: Finding[];
  /** The finding whose place is to be seen. */
  active: Finding | null;
}

/** The severest finding on a line decides its sign. */
function signOf(findings: Finding[], line: number): [string, string] | null {
  const here = findings.filter(
    (f) =>
      f.line !== null && line >= f.line && line <= Math.max(f.end_line ?? f.line, f.line) && f.line === line,
  );
  if (here.some((f) => f.severity === "stop")) return ["■", "text-rust-ink"];
  if (here.some((f) => f.severity === "marks")) return ["▲", "text-amber-ink"];
  return here.length > 0 ? ["•", "text-ink-soft"] : null;
}

/** A line with the place of the active finding marked. */
function Marked({ text, line, active }: { text: string; line: number; active: Finding | null }) {
  if (active?.line !== line || active.column === null) return <>{text === "" ? " " : text}</>;
  const chars = [...text];
  const start = active.column - 1;
  const end = active.end_line === line && active.end_column !== null ? active.end_column - 1 : chars.length;
  const middle = chars.slice(start, Math.max(end, start)).join("");
  return (
    <>
      {chars.slice(0, start).join("")}
      <mark className="bg-amber-wash text-ink underline decoration-2 decoration-rust underline-offset-2">
        {middle === "" ? "‸" : middle}
      </mark>
      {chars.slice(Math.max(end, start)).join("")}
    </>
  );
}

/** A file as it was handed in, with a sign beside each line that a finding is about. */
export function SourceView({ file, findings, active }: Props) {
  const here = useRef<HTMLDivElement>(null);
  const line = active?.line ?? null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: scrolls when the line changes
  useEffect(() => {
    here.current?.scrollIntoView({ block: "nearest" });
  }, [line, active]);
  if (file.text === null) {
    return <p className="text-ink-soft">This file is not text; it can't be shown.</p>;
  }
  return (
    <div
      className="mono max-h-[30rem] overflow-auto border border-rule bg-sheet py-1 text-sm"
      tabIndex={0}
      role="region"
      aria-label={`Source of ${file.name}`}
    >
      {file.text.split("\n").map((text, i) => {
        const number = i + 1;
        const sign = signOf(findings, number);
        const current = line === number;
        return (
          <div
            // biome-ignore lint/suspicious/noArrayIndexKey: lines of an unchanging file
            key={i}
            ref={current ? here : undefined}
            className={`flex min-w-max ${current ? "bg-tint" : ""}`}
          >
            <span className="w-10 shrink-0 select-none pr-2 text-right text-ink-soft">{number}</span>
            <span className={`w-4 shrink-0 select-none ${sign?.[1] ?? ""}`} aria-hidden="true">
              {sign?.[0] ?? ""}
            </span>
            <span className="whitespace-pre pr-4">
              <Marked text={text} line={number} active={active} />
            </span>
          </div>
        );
      })}
    </div>
  );
}
