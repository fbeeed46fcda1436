import { type ReactNode, useId } from "react";

/** A part of the worksheet with its heading. */
export function Part({ title, note, children }: { title: string; note?: string; children: ReactNode }) {
  const id = useId();
  return (
    <section aria-labelledby={id}>
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id={id} className="scroll-mt-16 text-lg font-bold">
          {title}
        </h2>
        {note !== undefined && <p className="text-sm text-ink-soft">{note}</p>}
      </div>
      {children}
    </section>
  );
}
