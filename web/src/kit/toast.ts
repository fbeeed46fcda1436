/** Short words about what was just done, with a way back where there is one. */
import { useSyncExternalStore } from "react";

export interface Toast {
  key: number;
  text: string;
  undo?: () => void;
}

const listeners = new Set<() => void>();
let list: Toast[] = [];
let last = 0;

function set(next: Toast[]) {
  list = next;
  for (const listener of listeners) listener();
}

/** Says that something was done; `undo` takes it back. */
export function say(text: string, undo?: () => void) {
  last += 1;
  set([...list.slice(-2), { key: last, text, ...(undo !== undefined && { undo }) }]);
}

export function dismiss(key: number) {
  set(list.filter((t) => t.key !== key));
}

export function useToasts(): Toast[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => list,
  );
}
