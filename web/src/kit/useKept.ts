import { useCallback, useState } from "react";

/** A choice that stays for this tab, so that going back finds it again. */
export function useKept<T>(key: string, initial: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const text = sessionStorage.getItem(key);
      return text === null ? initial : (JSON.parse(text) as T);
    } catch {
      return initial;
    }
  });
  const keep = useCallback(
    (next: T) => {
      setValue(next);
      try {
        sessionStorage.setItem(key, JSON.stringify(next));
      } catch {
        // A browser that keeps nothing forgets it with the page.
      }
    },
    [key],
  );
  return [value, keep];
}
