import { useCallback, useEffect, useRef, useState } from "react";
import { answered, api } from "@/api/client";
import type { DumpOpened, Lane } from "@/api/schema";
import { ErrorNote } from "@/kit/notes";
import { keyOf } from "./rows";
import { useWindow } from "./useWindow";
import { WaveView } from "./WaveView";

/** Columns that are asked for: more than any page is wide, so that a little zooming needs no asking. */
const COLUMNS = 3_000;
/** Most lanes that one question is about. */
const LANES = 64;

/** A waveform file: its lanes are fetched by the window as it moves. */
export function DumpView({ course, dump }: { course: number; dump: DumpOpened }) {
  const view = useWindow(dump.end);
  const [shown, setShown] = useState<string[]>([]);
  const [lanes, setLanes] = useState<Lane[]>(() =>
    dump.lanes.map((l) => ({ ...l, times: [0], values: ["X".repeat(l.width)] })),
  );
  const [error, setError] = useState<unknown>(null);
  const { id } = dump;
  const numbers = useRef(new Map(dump.lanes.map((l, i) => [keyOf(l), i])));
  const latest = useRef(0);
  const { from, to } = view;
  useEffect(() => {
    const wanted = shown.map((key) => numbers.current.get(key)).filter((n) => n !== undefined);
    if (wanted.length === 0) return;
    const turn = ++latest.current;
    const ask = (numbers: number[]) =>
      answered(
        api.GET("/api/courses/{course}/dumps/{dump}/window", {
          params: {
            path: { course, dump: id },
            query: { from: Math.floor(from), to: Math.ceil(to), columns: COLUMNS, lanes: numbers.join() },
          },
        }),
      );
    const questions = [];
    for (let at = 0; at < wanted.length; at += LANES) questions.push(ask(wanted.slice(at, at + LANES)));
    Promise.all(questions).then(
      (windows) => {
        // A later window has overtaken this one.
        if (turn !== latest.current) return;
        setError(null);
        const found = new Map(windows.flatMap((w) => w.lanes).map((l) => [l.lane, l]));
        setLanes((old) => old.map((l, i) => ({ ...l, ...(found.get(i) ?? {}) })));
      },
      (e: unknown) => setError(e),
    );
  }, [course, id, shown, from, to]);
  const onEdge = useCallback(
    async (key: string, time: number, forward: boolean) => {
      const lane = numbers.current.get(key) ?? 0;
      const params = { path: { course, dump: id }, query: { lane, time: Math.round(time), forward } };
      try {
        return (await answered(api.GET("/api/courses/{course}/dumps/{dump}/edge", { params }))).time;
      } catch (e) {
        setError(e);
        throw e;
      }
    },
    [course, id],
  );
  return (
    <>
      <p className="mb-2 text-ink-soft">
        {dump.lanes.length} signals, {dump.changes.toLocaleString("en-GB")} changes
        {dump.cut && "; only the first 5,000 signals are listed"}
      </p>
      {error !== null && <ErrorNote error={error} />}
      <WaveView lanes={lanes} view={view} onShown={setShown} onEdge={onEdge} />
    </>
  );
}
