import { useState } from "react";

/** A choice that this browser remembers. */
export function useStored(key: string, initial: string): [string, (value: string) => void] {
  const [value, setValue] = useState(() => {
    try {
      return localStorage.getItem(key) ?? initial;
    } catch {
      return initial;
    }
  });
  const keep = (next: string) => {
    setValue(next);
    try {
      localStorage.setItem(key, next);
    } catch {
      // A browser that keeps nothing forgets it with the page.
    }
  };
  return [value, keep];
}
