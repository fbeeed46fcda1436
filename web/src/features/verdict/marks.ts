import type { Finding, FixInfo } from "@/api/schema";
import type { EditorMark } from "@/kit/editor";

/** A finding as a place in its file. */
export function markOf(finding: Finding): EditorMark {
  const line = finding.line ?? 1;
  const column = finding.column ?? 1;
  const tone = finding.severity === "stop" || finding.severity === "marks" ? finding.severity : "note";
  return {
    line,
    column,
    endLine: finding.end_line ?? line,
    endColumn: finding.end_column ?? column,
    tone,
    message: finding.message,
  };
}

/** Where a line and column lie in a text, both from 1, columns in characters. */
function offset(lines: string[], line: number, column: number): number {
  const before = lines.slice(0, line - 1).reduce((sum, l) => sum + l.length + 1, 0);
  return before + [...(lines[line - 1] ?? "")].slice(0, column - 1).join("").length;
}

/** The text with a fix applied. */
export function applyFix(text: string, fix: FixInfo): string {
  const lines = text.split("\n");
  const from = offset(lines, fix.line, fix.column);
  const to = offset(lines, fix.end_line, fix.end_column);
  return text.slice(0, from) + fix.text + text.slice(Math.max(to, from));
}

/** The lines that a fix changes, before and after. */
export function changedLines(
  text: string,
  fix: FixInfo,
): { line: number; before: string[]; after: string[] } {
  const before = text.split("\n");
  const after = applyFix(text, fix).split("\n");
  const grown = after.length - before.length;
  return {
    line: fix.line,
    before: before.slice(fix.line - 1, fix.end_line),
    after: after.slice(fix.line - 1, fix.end_line + grown),
  };
}
