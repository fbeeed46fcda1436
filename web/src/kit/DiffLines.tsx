import { clsx } from "clsx";
import type { DiffLine } from "@/api/schema";

const SIGNS: Record<string, string> = { same: " ", gone: "−", new: "+", skipped: "⋯" };

/** What differs between two texts. */
export function DiffLines({ lines }: { lines: DiffLine[] }) {
  if (lines.length === 0) return <p className="mt-3">They are the same.</p>;
  return (
    <pre className="mono mt-3 max-h-[44vh] overflow-auto border border-rule text-sm leading-snug">
      {lines.map((line, k) => (
        <div
          // biome-ignore lint/suspicious/noArrayIndexKey: lines of an unchanging difference
          key={k}
          className={clsx(
            "whitespace-pre-wrap px-2",
            line.kind === "gone" && "bg-tint text-rust-ink line-through decoration-1",
            line.kind === "new" && "bg-amber-wash font-bold",
            line.kind === "skipped" && "text-ink-soft",
          )}
        >
          {SIGNS[line.kind] ?? " "} {line.text}
        </div>
      ))}
    </pre>
  );
}
