import type { CodeEntry } from "@/api/schema";
import { Prose } from "@/kit/Prose";

const LANGUAGE: Record<string, string> = { verilog: "Verilog", vhdl: "VHDL", text: "" };

/** A code with what it means, and how it looks wrong and right. */
export function CodeCard({ entry, open }: { entry: CodeEntry; open: boolean }) {
  return (
    <details open={open} className="border-b border-rule py-1.5">
      <summary className="cursor-pointer">
        <code className="font-bold">{entry.code}</code>{" "}
        <span className="text-sm text-ink-soft">{entry.severity}</span>
        <span className="block pl-4">
          <Prose text={entry.means} />
        </span>
      </summary>
      <div className="grid gap-3 py-2 pl-4">
        {entry.example.map((example) => (
          <div key={example.language} className="grid gap-3 md:grid-cols-2">
            {example.rules != null && (
              <p className="text-sm md:col-span-2">
                In an exercise with the rule <code className="mono">{example.rules}</code>
              </p>
            )}
            {(["wrong", "right"] as const).map((side) => (
              <figure key={side} className="min-w-0">
                <figcaption className="text-sm text-ink-soft">
                  <span aria-hidden="true" className={side === "wrong" ? "text-rust-ink" : "text-leaf-ink"}>
                    {side === "wrong" ? "✕ " : "✓ "}
                  </span>
                  {side}
                  {LANGUAGE[example.language] !== "" && `, ${LANGUAGE[example.language]}`}
                </figcaption>
                <pre
                  className={`mono overflow-auto border-l-4 bg-sheet px-2 py-1 text-sm ${side === "wrong" ? "border-rust" : "border-leaf"}`}
                  tabIndex={0}
                >
                  {shorten(example[side])}
                </pre>
              </figure>
            ))}
          </div>
        ))}
      </div>
    </details>
  );
}

/** Lines longer than anyone reads are cut. */
function shorten(text: string): string {
  const cut = (line: string) => (line.length > 200 ? `${line.slice(0, 120)} … ${line.slice(-20)}` : line);
  return text.replace(/\n$/, "").split("\n").map(cut).join("\n");
}
