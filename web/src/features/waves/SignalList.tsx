import { useState } from "react";
import type { Lane } from "@/api/schema";
import { CONTROL } from "@/kit/Field";
import { keyOf, type Row } from "./rows";

interface Props {
  lanes: Lane[];
  rows: Row[];
  onToggle: (key: string) => void;
}

/** All signals by scope, with a search; a tick shows one. */
export function SignalList({ lanes, rows, onToggle }: Props) {
  const [search, setSearch] = useState("");
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = new Set(rows.flatMap((r) => (r.kind === "lane" ? [r.key] : [])));
  const fits = lanes.filter((l) => words.every((w) => keyOf(l).toLowerCase().includes(w)));
  const scopes = new Map<string, Lane[]>();
  for (const lane of fits.slice(0, 200)) {
    const scope = lane.role === "expected" ? "What is expected" : lane.scopes.join(" / ");
    scopes.set(scope, [...(scopes.get(scope) ?? []), lane]);
  }
  return (
    <div className="mb-2 border border-rule bg-sheet p-3">
      <input
        className={`${CONTROL} mt-0! mb-2 max-w-80`}
        type="search"
        aria-label="Find a signal"
        placeholder="find a signal"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
      />
      {fits.length === 0 && <p className="text-ink-soft">No signal has that name.</p>}
      <div className="max-h-72 columns-2 gap-6 overflow-auto sm:columns-3 lg:columns-4">
        {[...scopes].map(([scope, list]) => (
          <fieldset key={scope} className="mb-2 break-inside-avoid-column">
            <legend className="text-sm font-bold text-ink-soft">{scope}</legend>
            {list.map((lane) => (
              <label key={keyOf(lane)} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={shown.has(keyOf(lane))}
                  onChange={() => onToggle(keyOf(lane))}
                />
                <span className="mono truncate text-sm">
                  {lane.name}
                  <span className="text-ink-soft">{lane.range}</span>
                </span>
              </label>
            ))}
          </fieldset>
        ))}
      </div>
      {fits.length > 200 && (
        <p className="text-sm text-ink-soft">{fits.length - 200} more; search for them.</p>
      )}
    </div>
  );
}
