import { useMemo } from "react";
import type { Evidence, FileText, Finding } from "@/api/schema";
import { CodeEditor, languageOf } from "@/kit/editor";
import { markOf } from "./marks";

interface Props {
  file: FileText;
  findings: Finding[];
  /** The finding whose place is to be seen. */
  active: Finding | null;
  /** What shows the finding that is looked at, wherever its place is. */
  evidence: Evidence | null;
  /** A line that a symbol of the structure comes from: it is lit instead. */
  line: number | null;
  onStep: (by: 1 | -1) => void;
}

/** A file as it was handed in, with a sign beside each line that a finding is about. */
export function SourceView({ file, findings, active, evidence, line, onStep }: Props) {
  const placed = useMemo(() => findings.filter((f) => f.line !== null), [findings]);
  const marks = useMemo(() => placed.map(markOf), [placed]);
  // Findings without a place light lines, too.
  const lit = useMemo(
    () =>
      line !== null ? [line] : (evidence?.path ?? []).filter((p) => p.file === file.name).map((p) => p.line),
    [evidence, line, file.name],
  );
  if (file.text === null) {
    return <p className="text-ink-soft">This file is not text; it can't be shown.</p>;
  }
  const index = active === null ? -1 : placed.indexOf(active);
  return (
    <CodeEditor
      text={file.text}
      language={languageOf(file.name)}
      label={`Source of ${file.name}`}
      marks={marks}
      active={index < 0 ? null : index}
      lit={lit}
      shownLine={line}
      onStep={onStep}
      maxHeight="30rem"
    />
  );
}
