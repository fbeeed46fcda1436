import { lazy, Suspense } from "react";

const Inner = lazy(() => import("./MarkdownInner"));

/** A text of an instructor (CommonMark). HTML in it is shown as it is written, and pictures from elsewhere are left out. */
export function Markdown({ text }: { text: string }) {
  return (
    <Suspense fallback={<div className="statement max-w-[68ch] whitespace-pre-wrap">{text}</div>}>
      <Inner text={text} />
    </Suspense>
  );
}
