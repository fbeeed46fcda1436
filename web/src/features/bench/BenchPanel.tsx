import { useState } from "react";
import type { BenchOf } from "@/api/client";
import type { BoardInfo } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { ErrorNote, Loading } from "@/kit/notes";
import { BoardPart } from "./BoardPart";
import { ImageBar } from "./ImageBar";
import { TickBar } from "./TickBar";
import { useBench } from "./useBench";

interface Props {
  board: BoardInfo;
  /** Whose bench it is; one object as long as it is the same. */
  of: BenchOf;
  /** Null where there are no rows to follow: the design is clocked or has too many inputs. */
  cursor: RowCursor | null;
  /** What is loaded, in words. */
  loaded: string;
}

/** The trainer board drawn from its data: switches to operate, lamps that follow what is loaded. */
export function BenchPanel({ board, of, cursor, loaded }: Props) {
  const { view, error, supply, flip, tick, setPower, load, retry } = useBench(of, cursor);
  const width = Math.max(...board.parts.map((p) => p.x)) + 1;
  // A board without an oscillator of its own is ticked by hand, as if it had one of a hertz.
  const rate = board.parts.find((p) => p.kind === "oscillator")?.frequency_hz ?? 1;
  const isClocked = view?.is_clocked === true && supply.loaded;
  const [runs, setRuns] = useState(false);
  // Without power nothing goes on.
  if (runs && !isClocked) setRuns(false);
  return (
    <section aria-labelledby="bench-title">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="bench-title" className="text-lg font-bold">
          Bench
        </h2>
        <p className="text-sm text-ink-soft">{loaded}</p>
      </div>
      {error !== null && <ErrorNote error={error} onRetry={retry} />}
      {view === null && error === null && <Loading what="the bench" />}
      {view !== null && (
        <div className="rounded-lg border-2 border-ink bg-sheet px-3 pb-2 pt-2">
          <div className="mb-2 flex justify-between border-b border-rule pb-1 text-sm">
            <span className="font-bold">{board.title}</span>
            <span className="mono text-ink-soft">{board.device}</span>
          </div>
          <div className="grid gap-y-2" style={{ gridTemplateColumns: `repeat(${width}, minmax(0, 1fr))` }}>
            {board.parts.map((part, i) => (
              <div
                key={part.label}
                style={{ gridColumn: part.x + 1, gridRow: part.y + 1 }}
                className="flex justify-center"
              >
                <BoardPart
                  part={part}
                  on={view.switches[i] ?? false}
                  lamp={view.lamps[i] ?? "dark"}
                  glow={runs ? (view.glow[i] ?? null) : null}
                  bits={view.wired.filter((w) => w.part === i).map((w) => w.bit)}
                  onFlip={() => flip(i)}
                />
              </div>
            ))}
          </div>
          {isClocked && <TickBar rate={rate} ticks={view.ticks} runs={runs} setRuns={setRuns} tick={tick} />}
          {view.has_open_input && (
            <p className="mt-2 border-t border-rule pt-1 text-sm text-violet">
              An input is not wired to a switch; lamps that depend on it are hatched.
            </p>
          )}
          {view.image !== null && (
            <ImageBar image={view.image} supply={supply} onPower={setPower} onLoad={load} />
          )}
        </div>
      )}
    </section>
  );
}
