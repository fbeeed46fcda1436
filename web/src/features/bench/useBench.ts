import { useCallback, useEffect, useRef, useState } from "react";
import { bench } from "@/api/client";
import type { BenchView } from "@/api/types";
import type { RowCursor } from "@/cursor/useRowCursor";

/** The bench at `base`, following the row cursor and moving it when switches are operated. */
export function useBench(base: string, cursor: RowCursor) {
  const [view, setView] = useState<BenchView | null>(null);
  const [error, setError] = useState<unknown>(null);
  const latest = useRef(0);
  const shown = useRef<number | null>(null);
  const switches = useRef<boolean[]>([]);
  const pending = useRef<Promise<void>>(Promise.resolve());

  const ask = useCallback(
    async (wanted: boolean[], row: number | null) => {
      latest.current += 1;
      const turn = latest.current;
      try {
        const answer = await bench(base, wanted, row);
        // An answer that a later question has overtaken is dropped.
        if (turn !== latest.current) return;
        switches.current = answer.switches;
        shown.current = row ?? answer.row;
        setView(answer);
        setError(null);
        if (row === null && answer.row !== null) cursor.setRow(answer.row);
      } catch (failure) {
        if (turn === latest.current) setError(failure);
      }
    },
    [base, cursor.setRow],
  );

  useEffect(() => {
    if (cursor.row !== shown.current) pending.current = ask(switches.current, cursor.row);
  }, [ask, cursor.row]);

  const flip = (part: number) => {
    // The switches of a row that is still asked for have to be there before one of them is flipped.
    void pending.current.then(() => {
      const wanted = [...switches.current];
      wanted[part] = !(wanted[part] ?? false);
      switches.current = wanted;
      return ask(wanted, null);
    });
  };
  const retry = () => void ask(switches.current, cursor.row);
  return { view, error, flip, retry };
}
