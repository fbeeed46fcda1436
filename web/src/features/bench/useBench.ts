import { useCallback, useEffect, useRef, useState } from "react";
import { type BenchOf, bench } from "@/api/client";
import type { BenchView } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";

/** How the board is supplied. */
export interface Supply {
  power: boolean;
  /** The image is loaded; power off loses it. */
  loaded: boolean;
  /** Why the board did not take the image the last time. */
  refusal: string | null;
}

/**
 * The bench of something. With a row cursor it follows it, and moves it when switches are operated; a clocked design has
 * none, and what its flip-flops hold is handed from answer to question.
 */
export function useBench(of: BenchOf, cursor: RowCursor | null) {
  const [view, setView] = useState<BenchView | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [supply, setSupply] = useState<Supply>({ power: true, loaded: true, refusal: null });
  const latest = useRef(0);
  const shown = useRef<number | null>(null);
  const switches = useRef<boolean[]>([]);
  const state = useRef<string | null>(null);
  const supplied = useRef(supply);
  const gone = useRef(0);
  const pending = useRef<Promise<number>>(Promise.resolve(0));
  const row = cursor?.row ?? null;
  const setRow = cursor?.setRow;

  const settle = useCallback((next: Supply) => {
    supplied.current = next;
    setSupply(next);
  }, []);

  const ask = useCallback(
    async (wanted: boolean[], at: number | null, ticks = 0, loading = false) => {
      latest.current += 1;
      const turn = latest.current;
      const { power, loaded } = supplied.current;
      const on = power && (loaded || loading);
      try {
        const answer = await bench(of, {
          switches: wanted,
          row: at,
          power: on,
          state: state.current,
          ticks,
        });
        // An answer that a later question has overtaken is dropped.
        if (turn !== latest.current) return 0;
        const ran = Math.max(0, answer.ticks - gone.current);
        gone.current = answer.ticks;
        switches.current = answer.switches;
        state.current = answer.state;
        shown.current = at ?? answer.row;
        setView(answer);
        setError(null);
        const refused = answer.refusal ?? null;
        if (loading) settle({ power, loaded: refused === null, refusal: refused });
        else if (on && refused !== null) settle({ power, loaded: false, refusal: refused });
        if (at === null && answer.row !== null) setRow?.(answer.row);
        return ran;
      } catch (failure) {
        if (turn === latest.current) setError(failure);
        return 0;
      }
    },
    [of, setRow, settle],
  );

  /** Does something when every question before is answered, so that it begins where they ended. */
  const then = useCallback((work: () => Promise<number>) => {
    const done = pending.current.then(work);
    pending.current = done;
    return done;
  }, []);

  useEffect(() => {
    if (row === null) void then(() => ask(switches.current, null));
    else if (row !== shown.current) pending.current = ask(switches.current, row);
  }, [ask, row, then]);

  const flip = (part: number) =>
    void then(() => {
      const wanted = [...switches.current];
      wanted[part] = !(wanted[part] ?? false);
      switches.current = wanted;
      return ask(wanted, null);
    });
  /** Goes on by so many ticks; says how many were run. */
  const tick = (count: number) => then(() => ask(switches.current, null, count));
  const setPower = (power: boolean) =>
    void then(() => {
      // Power off loses what was loaded and what it held.
      state.current = null;
      settle({ power, loaded: false, refusal: null });
      return ask(switches.current, null);
    });
  const load = () =>
    void then(() => {
      state.current = null;
      return ask(switches.current, null, 0, true);
    });
  const retry = () => void ask(switches.current, row);
  return { view, error, supply, flip, tick, setPower, load, retry };
}
