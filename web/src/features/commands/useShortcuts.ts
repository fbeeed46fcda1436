import { useEffect } from "react";
import { fits, isPlain, isTyping, offered } from "@/kit/commands";

/** Listens to the keys of all commands; the newest offer of the same keys counts. */
export function useShortcuts() {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return;
      const found = offered().findLast(
        (c) => c.run !== undefined && c.keys !== undefined && fits(c.keys, event),
      );
      if (found?.keys === undefined || (isPlain(found.keys) && isTyping(event.target))) return;
      event.preventDefault();
      found.run?.();
    };
    document.addEventListener("keydown", onKeyDown);
    return () => document.removeEventListener("keydown", onKeyDown);
  }, []);
}
