import { useCallback, useState } from "react";
import { type Pad, readPad } from "../model/pad";

function kept(key: string): Pad | null {
  try {
    return readPad(localStorage.getItem(key));
  } catch {
    return null;
  }
}

/** A pad that this browser remembers under a key. `fresh` is what it begins with; `forced` overrides what was kept. */
export function usePad(key: string, fresh: Pad, forced: Pad | null) {
  const [pad, setPad] = useState<Pad>(() => forced ?? kept(key) ?? fresh);
  const change = useCallback(
    (next: Pad) => {
      setPad(next);
      try {
        localStorage.setItem(key, JSON.stringify(next));
      } catch {
        // A browser that keeps nothing forgets it with the page.
      }
    },
    [key],
  );
  return { pad, change };
}
