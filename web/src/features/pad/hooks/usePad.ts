import { useCallback, useState } from "react";
import { isSame, type KeptPad, type Pad, readPad } from "../model/pad";

function kept(key: string): KeptPad | null {
  try {
    return readPad(localStorage.getItem(key));
  } catch {
    return null;
  }
}

function keep(key: string, pad: KeptPad) {
  try {
    localStorage.setItem(key, JSON.stringify(pad));
  } catch {
    // A browser that keeps nothing forgets it with the page.
  }
}

interface Options {
  /** What an empty pad holds. */
  fresh: Pad;
  /** An attempt to go on from, and the address that says so. */
  from: Pad | null;
  origin: string;
}

/**
 * A pad that this browser remembers under a key. Going on from an attempt puts aside what was on it, and coming back to the
 * same address finds what was typed since.
 */
export function usePad(key: string, { fresh, from, origin }: Options) {
  const [pad, setPad] = useState<KeptPad>(() => {
    const known = kept(key);
    if (from === null || known?.origin === origin) return known ?? fresh;
    const { before: _, origin: __, ...was } = known ?? { ...fresh };
    const isWorth = known !== null && !isSame(was, fresh) && !isSame(was, from);
    const begun = { ...from, origin, ...(isWorth && { before: was }) };
    keep(key, begun);
    return begun;
  });
  const change = useCallback(
    (next: KeptPad) => {
      setPad(next);
      keep(key, next);
    },
    [key],
  );
  return { pad, change };
}
