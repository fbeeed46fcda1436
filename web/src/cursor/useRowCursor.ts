import { useCallback, useEffect, useState } from "react";
import { useSearchParams } from "react-router";

/** The row cursor: the one input combination that every view on the page shows. It lives in the page's address. */
export interface RowCursor {
  row: number;
  setRow: (row: number) => void;
}

/** Input bits of a row as text, first input first. */
export function rowText(row: number, inputs: number): string {
  return row.toString(2).padStart(inputs, "0").slice(-inputs);
}

/** The row in an address; 0 when it names none of this table. */
export function parseRow(text: string | null, inputs: number): number {
  return text !== null && text.length === inputs && /^[01]+$/.test(text) ? Number.parseInt(text, 2) : 0;
}

export function useRowCursor(inputs: number): RowCursor {
  const [params, setParams] = useSearchParams();
  const inAddress = parseRow(params.get("row"), inputs);
  // The address follows a moment later; until then the row asked for counts, so that held-down keys are not lost.
  const [asked, setAsked] = useState<number | null>(null);
  useEffect(() => setAsked((a) => (a === inAddress ? null : a)), [inAddress]);
  const row = asked ?? inAddress;
  const setRow = useCallback(
    (next: number) => {
      const last = 2 ** inputs - 1;
      const within = Math.min(Math.max(next, 0), last);
      const wanted = rowText(within, inputs);
      setAsked(within);
      setParams(
        (old) => {
          const fresh = new URLSearchParams(old);
          fresh.set("row", wanted);
          return fresh;
        },
        { replace: true, preventScrollReset: true },
      );
    },
    [inputs, setParams],
  );
  return { row, setRow };
}
