import { useEffect, useState } from "react";
import type { Lane } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { nextDifference, type Radix, radixesOf, show, timeText, valueAt } from "./model";
import { Readings } from "./Readings";
import { RowNames } from "./RowNames";
import { type Drawn, drawn, keysOf, sightFrom } from "./rows";
import { SignalList } from "./SignalList";
import { useRows } from "./useRows";
import type { useWindow } from "./useWindow";
import { HEAD, LANE, WaveCanvas } from "./WaveCanvas";

interface Props {
  lanes: Lane[];
  view: ReturnType<typeof useWindow>;
  /** How the rows were arranged before, and who is told when that changes. */
  arrangement?: string | null;
  onArrange?: ((text: string) => void) | null;
  onDraw?: ((row: Drawn, time: number) => boolean) | null;
  /** Told which lanes are in sight, by their keys, where they are fetched by the window. */
  onShown?: ((keys: string[]) => void) | null;
  /** Where a lane changes, when the lanes hold only a window of what there is. */
  onEdge?: ((key: string, time: number, forward: boolean) => Promise<number>) | null;
}

function ValueTable({ rows, cursor }: { rows: Drawn[]; cursor: number }) {
  return (
    <details className="mt-2 text-sm">
      <summary>Values at {timeText(cursor)} as a table</summary>
      <table className="mt-1 border-collapse">
        <thead>
          <tr>
            <th className="border border-rule px-2 text-left">signal</th>
            <th className="border border-rule px-2 text-left">value</th>
            <th className="border border-rule px-2 text-left">bits</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(
            (r) =>
              r.steps !== null && (
                <tr key={`${r.index} ${r.path}`}>
                  <td className="border border-rule px-2">
                    {r.role === "expected" && "expected "}
                    <span className="mono">{r.title}</span>
                  </td>
                  <td className="mono border border-rule px-2">
                    {show(valueAt(r.steps, cursor), r.radix, r.steps.literals)}
                  </td>
                  <td className="mono border border-rule px-2">{valueAt(r.steps, cursor)}</td>
                </tr>
              ),
          )}
        </tbody>
      </table>
    </details>
  );
}

/** Signals over time: names with their values at the time cursor, and the waves beside them. */
export function WaveView(props: Props) {
  const {
    lanes,
    view,
    arrangement = null,
    onArrange = null,
    onDraw = null,
    onShown = null,
    onEdge = null,
  } = props;
  const [marks, setMarks] = useState<[number | null, number | null]>(() => sightFrom(arrangement).marks);
  const isWhole = view.from <= 0 && view.to >= view.whole;
  const edit = useRows(lanes, arrangement, onArrange, {
    range: isWhole ? null : [Math.round(view.from), Math.round(view.to)],
    marks,
  });
  const [selected, setSelected] = useState(0);
  const [also, setAlso] = useState<number[]>([]);
  const [listed, setListed] = useState(false);
  const rows = drawn(edit.rows, lanes);
  const row = rows[Math.min(selected, rows.length - 1)];
  const [one, two] = marks;
  const inSight = JSON.stringify(keysOf(edit.rows));
  useEffect(() => onShown?.(JSON.parse(inSight) as string[]), [inSight, onShown]);
  const choose = (at: number, add: boolean) => {
    setAlso(add ? [...new Set([...also, selected, at])] : []);
    setSelected(at);
  };
  const differing = lanes.filter((l) => l.differs.length > 0);
  const toDifference = () => {
    const time = nextDifference(differing, view.cursor);
    if (time !== null) view.move(time);
  };
  const mark = (k: 0 | 1) => setMarks(k === 0 ? [view.cursor, marks[1]] : [marks[0], view.cursor]);
  const group = also.map((at) => rows[at]?.index).filter((i) => i !== undefined);
  const splits =
    row !== undefined && (row.row.kind === "bus" || (row.row.kind === "lane" && (row.steps?.width ?? 1) > 1));
  const radixes = row?.steps == null ? [] : radixesOf(row.steps);
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-1.5">
        <Button aria-pressed={listed} onClick={() => setListed(!listed)}>
          Signals
        </Button>
        <Button onClick={() => view.zoom(0.5, view.cursor)}>Closer</Button>
        <Button onClick={() => view.zoom(2, view.cursor)}>Wider</Button>
        <Button onClick={view.fit}>Whole run</Button>
        <Button onClick={() => mark(0)}>Mark 1</Button>
        <Button onClick={() => mark(1)}>Mark 2</Button>
        {one !== null && two !== null && <Button onClick={() => view.between(one, two)}>To the marks</Button>}
        {(one !== null || two !== null) && (
          <Button onClick={() => setMarks([null, null])}>Clear marks</Button>
        )}
        {differing.length > 0 && (
          <Button className="border-rust! text-rust-ink!" onClick={toDifference}>
            Next difference
          </Button>
        )}
        <span className="grow" />
        {row !== undefined && radixes.length > 0 && (
          <select
            aria-label={`How ${row.title} is written`}
            className={`${CONTROL} mt-0! w-40!`}
            value={row.radix}
            onChange={(e) => edit.write(row.index, e.target.value as Radix)}
          >
            {radixes.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
        {row !== undefined && (row.row.kind === "heading" || row.row.kind === "bus") && (
          <input
            aria-label="Its name"
            className={`${CONTROL} mt-0! w-32!`}
            value={row.title}
            onChange={(e) => edit.rename(row.index, e.target.value)}
          />
        )}
        {group.length > 1 && (
          <Button
            onClick={() => {
              edit.combine(group);
              choose(Math.min(...also), false);
            }}
          >
            Combine
          </Button>
        )}
        {splits && row !== undefined && <Button onClick={() => edit.split(row.index)}>Split</Button>}
        {row !== undefined && <Button onClick={() => edit.heading(row.index)}>Heading</Button>}
        {row !== undefined && <Button onClick={() => edit.remove(row.index)}>Hide</Button>}
      </div>
      {listed && <SignalList lanes={lanes} rows={edit.rows} onToggle={edit.toggle} />}
      {rows.length === 0 ? (
        <p className="border border-rule bg-sheet p-3">
          No lane is shown.{" "}
          <button type="button" className="underline" onClick={edit.usual}>
            Show the usual ones
          </button>
        </p>
      ) : (
        <div className="flex max-h-[34rem] overflow-y-auto border border-rule bg-sheet">
          <RowNames
            rows={rows}
            selected={selected}
            also={also}
            onSelect={choose}
            cursor={view.cursor}
            edit={edit}
          />
          <div className="min-w-0 grow" style={{ minHeight: HEAD + LANE }}>
            <WaveCanvas
              rows={rows}
              selected={selected}
              onSelect={(at) => choose(at, false)}
              marks={marks}
              onMark={mark}
              onNextDifference={toDifference}
              view={view}
              onDraw={onDraw}
              onEdge={onEdge}
            />
          </div>
        </div>
      )}
      <Readings cursor={view.cursor} marks={marks} row={row} end={view.whole} partly={onEdge !== null} />
      <p className="mt-1 text-sm text-ink-soft">
        In the waves: left and right go to the edges of the chosen lane, up and down choose another, plus,
        minus and 0 zoom, 1 and 2 set the marks{differing.length > 0 && ", n goes to the next difference"}.
        Among the names: Alt with an arrow moves a lane, Shift chooses several.
      </p>
      <ValueTable rows={rows} cursor={view.cursor} />
    </div>
  );
}
