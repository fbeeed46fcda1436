import { useState } from "react";
import type { WaveLane } from "@/api/types";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { type Radix, show, timeText, valueAt } from "./model";
import { useWindow } from "./useWindow";
import { HEAD, LANE, WaveCanvas } from "./WaveCanvas";

const RADIXES: [Radix, string][] = [
  ["unsigned", "unsigned"],
  ["signed", "signed"],
  ["hex", "hex"],
  ["binary", "binary"],
];

/** Signals of the outermost scope come first; a search looks through all of them. */
function chosen(lanes: WaveLane[], search: string): WaveLane[] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) {
    const least = Math.min(...lanes.map((l) => l.scopes.length));
    return lanes.filter((l) => l.scopes.length === least).slice(0, 40);
  }
  const path = (l: WaveLane) => [...l.scopes, l.name].join(".").toLowerCase();
  return lanes.filter((l) => words.every((w) => path(l).includes(w))).slice(0, 40);
}

/** Signals over time: names with their values at the time cursor, and the waves beside them. */
export function WaveView({ lanes, end }: { lanes: WaveLane[]; end: number }) {
  const view = useWindow(end);
  const [search, setSearch] = useState("");
  const [selected, setSelected] = useState(0);
  const [radixes, setRadixes] = useState<Record<string, Radix>>({});
  const shown = chosen(lanes, search);
  const key = (l: WaveLane) => [...l.scopes, l.name].join(".");
  const radix = (l: WaveLane) => radixes[key(l)] ?? "unsigned";
  const lane = shown[Math.min(selected, shown.length - 1)];
  return (
    <section aria-labelledby="waves-title">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h2 id="waves-title" className="text-lg font-bold">
          Waves
        </h2>
        <span className="mono text-sm">{timeText(view.cursor)}</span>
        <span className="grow" />
        <input
          className={`${CONTROL} mt-0! w-44!`}
          type="search"
          aria-label="Find a signal"
          placeholder="find a signal"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
        <Button onClick={() => view.zoom(0.5, view.cursor)}>Closer</Button>
        <Button onClick={() => view.zoom(2, view.cursor)}>Wider</Button>
        <Button onClick={view.fit}>Whole run</Button>
        {lane !== undefined && lane.width > 1 && (
          <select
            aria-label={`How ${lane.name} is written`}
            className={`${CONTROL} mt-0! w-32!`}
            value={radix(lane)}
            onChange={(e) => setRadixes({ ...radixes, [key(lane)]: e.target.value as Radix })}
          >
            {RADIXES.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </div>
      <div className="flex border border-rule bg-sheet">
        <ul className="w-52 shrink-0 border-r border-rule" style={{ paddingTop: HEAD }}>
          {shown.map((l, i) => (
            <li key={key(l)} style={{ height: LANE }}>
              <button
                type="button"
                aria-pressed={l === lane}
                onClick={() => setSelected(i)}
                className={`flex h-full w-full items-center justify-between gap-2 px-2 text-left text-sm ${l === lane ? "bg-tint" : "hover:bg-tint"}`}
              >
                <span className="mono truncate" title={key(l)}>
                  {search === "" ? l.name : key(l)}
                </span>
                <span className="mono shrink-0 font-bold">{show(valueAt(l, view.cursor), radix(l))}</span>
              </button>
            </li>
          ))}
        </ul>
        <div className="min-w-0 grow">
          <WaveCanvas lanes={shown} selected={selected} onSelect={setSelected} radix={radix} view={view} />
        </div>
      </div>
      <p className="mt-1 text-sm text-ink-soft">
        In the waves: left and right go to the edges of the chosen signal, up and down choose another, plus,
        minus and 0 zoom.
      </p>
    </section>
  );
}
