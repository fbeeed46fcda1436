import type { ReactNode } from "react";
import type { FixInfo } from "@/api/schema";
import { Prose } from "@/kit/Prose";
import { changedLines } from "./marks";

interface Props {
  text: string;
  fix: FixInfo;
  /** What can be done with it. */
  children: ReactNode;
}

/** What a fix changes, line by line, and a way to use it. */
export function FixPreview({ text, fix, children }: Props) {
  const { line, before, after } = changedLines(text, fix);
  const row = (sign: string, words: string, look: string, content: string, key: string) => (
    <div key={key} className={`flex gap-2 px-2 ${look}`}>
      <span aria-hidden="true">{sign}</span>
      <span className="sr-only">{words}</span>
      <span className="min-w-0 whitespace-pre-wrap break-words">{content === "" ? " " : content}</span>
    </div>
  );
  return (
    <figure className="mt-2 border border-rule bg-sheet">
      <figcaption className="flex flex-wrap items-center justify-between gap-2 border-b border-rule px-2 py-1 text-sm">
        <span>
          <b>
            <Prose text={fix.label} />
          </b>{" "}
          <span className="text-ink-soft">in line {line}</span>
        </span>
        {children}
      </figcaption>
      <div className="mono py-1 text-sm">
        {before.map((t, i) => row("−", "before:", "text-rust-ink", t, `b${line + i}`))}
        {after.map((t, i) => row("+", "after:", "text-leaf-ink", t, `a${line + i}`))}
      </div>
    </figure>
  );
}
