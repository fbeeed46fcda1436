import { useEffect, useRef } from "react";
import type { Lane, Stimulus, WavesView } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { Prose } from "@/kit/Prose";
import { indexAt } from "./model";
import { sightFrom } from "./rows";
import { turnedOver, withLine } from "./stimulus";
import { TakeWaves } from "./TakeWaves";
import { useWindow } from "./useWindow";
import { WaveView } from "./WaveView";

const ENDS: Record<string, string> = {
  finished: "The testbench ended it.",
  quiet: "Nothing was left to happen.",
  until: "The time asked for was reached.",
  stopped: "It was stopped.",
  not_run: "It could not be run.",
};

interface Props {
  view: WavesView;
  cursor: { rows: RowCursor; inputs: string[] } | undefined;
  /** The same run as a picture (SVG). */
  picture: () => Promise<string>;
  onArrange: ((text: string) => void) | null;
  onDraw: ((stimulus: Stimulus) => void) | null;
}

/** The number of the row that the inputs show at a time; null when a bit of it isn't known. */
function rowAt(lanes: Lane[], inputs: string[], time: number): number | null {
  let row = 0;
  for (const name of inputs) {
    const [, base = name, digits] = /^(.*?)(?:\[(-?\d+)\])?$/.exec(name) ?? [];
    const lane = lanes.find((l) => l.role === "input" && l.name.toLowerCase() === base.toLowerCase());
    if (lane === undefined) return null;
    const [left = 0, right = 0] = lane.range.match(/-?\d+/g)?.map(Number) ?? [];
    const place = digits === undefined ? 0 : Math.abs(Number(digits) - left);
    if (digits !== undefined && place > Math.abs(left - right)) return null;
    const level = lane.values[indexAt(lane, time)]?.[place];
    if (level !== "0" && level !== "1") return null;
    row = row * 2 + Number(level);
  }
  return row;
}

function Summary({ view }: { view: WavesView }) {
  const { waves } = view;
  const differing = waves.lanes.filter((l) => l.differs.length > 0);
  const compared = waves.lanes.some((l) => l.role === "expected") && waves.unit !== null;
  return (
    <p aria-live="polite" className="mb-2">
      {waves.unit !== null && (
        <>
          Ran <code>{waves.unit}</code>.{" "}
        </>
      )}
      {waves.unit !== null && waves.stimulus === null && ENDS[waves.end]}
      {waves.unit !== null && waves.stimulus !== null && waves.end !== "finished" && ENDS[waves.end]}
      {waves.failed > 0 && ` ${waves.failed} assertions failed.`}
      {compared &&
        waves.end === "finished" &&
        differing.length === 0 &&
        "Nothing differs from what is expected."}
      {differing.length > 0 && (
        <b className="text-rust-ink">
          {differing.map((l) => l.name).join(", ")} {differing.length === 1 ? "differs" : "differ"} from what
          is expected.
        </b>
      )}
      {waves.why_no_expected !== null && ` ${waves.why_no_expected}`}
      {waves.cut && " Only the first part of it is shown here."}
    </p>
  );
}

/** What a run gave: why it ended, what it wrote, its waves. */
export function Result({ view, cursor, picture, onArrange, onDraw }: Props) {
  const { waves } = view;
  const window = useWindow(waves.time_fs, sightFrom(view.arrangement).range);
  const stops = waves.findings.filter((f) => f.severity === "stop");
  const first = Math.min(...waves.lanes.flatMap((l) => l.differs.map((s) => s.from)));
  const { move } = window;
  // A run that differs opens on its first difference.
  useEffect(() => {
    if (Number.isFinite(first)) move(first);
  }, [first, move]);
  const row = cursor === undefined ? null : rowAt(waves.lanes, cursor.inputs, window.cursor);
  const told = useRef<number | null>(null);
  const setRow = cursor?.rows.setRow;
  useEffect(() => {
    if (row === null || row === told.current) return;
    // The first reading only tells where the waves stand; from then on the time leads.
    if (told.current !== null) setRow?.(row);
    told.current = row;
  }, [row, setRow]);
  const wanted = cursor?.rows.row;
  const inputs = cursor?.inputs;
  useEffect(() => {
    if (wanted === undefined || inputs === undefined || wanted === told.current) return;
    const times = [...new Set(waves.lanes.filter((l) => l.role === "input").flatMap((l) => l.times))].sort(
      (a, b) => a - b,
    );
    const time = times.find((t) => rowAt(waves.lanes, inputs, t) === wanted);
    if (time === undefined) return;
    told.current = wanted;
    move(time);
  }, [wanted, inputs, waves.lanes, move]);
  return (
    <div className="space-y-3">
      <Summary view={view} />
      {stops.map((f) => (
        <p key={`${f.code} ${f.line}`} className="border-l-4 border-rust bg-sheet px-3 py-2">
          {f.file !== null && (
            <span className="mono text-sm text-ink-soft">
              {f.file}:{f.line}{" "}
            </span>
          )}
          <b>
            <Prose text={f.message} />
          </b>{" "}
          <Prose text={f.help} />
        </p>
      ))}
      {waves.output !== "" && (
        <section aria-label="What it wrote">
          <pre className="mono max-h-72 overflow-auto border border-rule bg-sheet p-2 text-sm" tabIndex={0}>
            {waves.output}
          </pre>
        </section>
      )}
      {waves.lanes.length > 0 && (
        <WaveView
          key={waves.lanes.map((l) => l.name).join()}
          lanes={waves.lanes}
          view={window}
          arrangement={view.arrangement}
          onArrange={onArrange}
          onDraw={
            onDraw === null
              ? null
              : (hit, time) => {
                  const lane = waves.lanes.find((l) => l === hit.steps);
                  if (
                    lane === undefined ||
                    lane.role !== "input" ||
                    lane.width !== 1 ||
                    waves.stimulus === null
                  ) {
                    return false;
                  }
                  const line = turnedOver(lane, time, waves.stimulus.step_ns);
                  onDraw(withLine(waves.stimulus, lane.name, line));
                  return true;
                }
          }
        />
      )}
      {waves.lanes.length > 0 && <TakeWaves lanes={waves.lanes} picture={picture} />}
    </div>
  );
}
