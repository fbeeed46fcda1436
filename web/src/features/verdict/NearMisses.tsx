import type { NearMiss } from "@/api/schema";
import { Prose } from "@/kit/Prose";

interface LineProps {
  sign: string;
  words: string;
  look: string;
  text: string;
}

function ChangedLine({ sign, words, look, text }: LineProps) {
  return (
    <div className={`flex gap-2 px-2 ${look}`}>
      <span aria-hidden="true">{sign}</span>
      <span className="sr-only">{words}</span>
      <span className="min-w-0 whitespace-pre-wrap break-words">{text}</span>
    </div>
  );
}

/** Small changes with which the design would pass; each one was tried. */
export function NearMisses({ list }: { list: NearMiss[] }) {
  return (
    <section aria-labelledby="near-title" className="mt-5 border-l-4 border-leaf bg-sheet px-3 py-2">
      <h2 id="near-title" className="font-bold">
        Near miss{list.length > 1 && "es"}: one change and it would pass
      </h2>
      <ul>
        {list.map((near) => (
          <li key={near.message} className="mt-1">
            <Prose text={near.message} /> <Prose text={near.repair} />
            {near.file !== null && (
              <span className="mono ml-2 text-sm text-ink-soft">
                {near.file}:{near.line}
              </span>
            )}
            {near.before != null && near.after != null && (
              <div className="mono mt-1 mb-2 border border-rule bg-sheet py-1 text-sm">
                <ChangedLine sign="−" words="before:" look="text-rust-ink" text={near.before} />
                <ChangedLine sign="+" words="after:" look="text-leaf-ink" text={near.after} />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
