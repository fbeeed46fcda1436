/** Everything that can be done by a name or by keys: one list for the palette, the shortcuts and their sheet. */
import { useEffect, useRef, useSyncExternalStore } from "react";

export interface Command {
  /** What it does, beginning with a verb. */
  title: string;
  /** Where it belongs: the page, the course, everywhere. */
  group: string;
  /** As it is printed: `Ctrl+K`, `?`, `Alt+N`. */
  keys?: string;
  /** Left out where the keys work only within a part of the page, which listens itself. */
  run?: () => void;
}

const lists = new Map<symbol, Command[]>();
const listeners = new Set<() => void>();
let all: Command[] = [];

function changed() {
  all = [...lists.values()].flat();
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Offers commands as long as the component is there. */
export function useCommands(list: Command[]) {
  const latest = useRef(list);
  latest.current = list;
  const said = JSON.stringify(list.map(({ run, ...words }) => ({ ...words, runs: run !== undefined })));
  useEffect(() => {
    const key = Symbol(said);
    const entries = latest.current.map((command, k) =>
      // What it does may have changed since it was offered.
      command.run === undefined ? command : { ...command, run: () => latest.current[k]?.run?.() },
    );
    lists.set(key, entries);
    changed();
    return () => {
      lists.delete(key);
      changed();
    };
  }, [said]);
}

/** All commands that are offered now. */
export function useAllCommands(): Command[] {
  return useSyncExternalStore(subscribe, () => all);
}

/** Those offered at this moment, for who listens to keys. */
export function offered(): Command[] {
  return all;
}
