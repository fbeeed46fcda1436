import { lazy, Suspense } from "react";
import type { EditorLanguage } from "./look";
import type { EditorMark } from "./marks";

export interface CodeEditorProps {
  text: string;
  language: EditorLanguage;
  /** What it is, for those who don't see it. */
  label: string;
  marks: EditorMark[];
  /** Which of the marks is looked at. */
  active: number | null;
  /** Lines that decide the level that is looked at. */
  lit?: number[];
  /** A line to bring into sight, before the active mark. */
  shownLine?: number | null;
  /** Absent: the text can be read only. */
  onChange?: (text: string) => void;
  /** To the next or the previous mark (Alt-N, Alt-P). */
  onStep?: (by: 1 | -1) => void;
  maxHeight: string;
}

const Inner = lazy(async () => ({ default: (await import("./CodeEditorInner")).CodeEditorInner }));

/** A text with line numbers, signs in the margin and marked places; editable when `onChange` is given. */
export function CodeEditor(props: CodeEditorProps) {
  // Until the editor is there, a long text is scrolled by keyboard all the same.
  const waiting = (
    <section
      aria-label={props.label}
      tabIndex={0}
      className="overflow-auto"
      style={{ maxHeight: props.maxHeight }}
    >
      <pre className="mono border border-rule bg-sheet p-2 text-sm">{props.text}</pre>
    </section>
  );
  return (
    <Suspense fallback={waiting}>
      <Inner {...props} />
    </Suspense>
  );
}

/** The language of a file by its ending. */
export function languageOf(name: string): EditorLanguage {
  if (/\.(v|sv|vh|svh|verilog)$/i.test(name)) return "verilog";
  if (/\.(vhd|vhdl)$/i.test(name)) return "vhdl";
  return "text";
}
