import type { NearMiss } from "@/api/types";
import { Prose } from "@/kit/Prose";

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
          </li>
        ))}
      </ul>
    </section>
  );
}
