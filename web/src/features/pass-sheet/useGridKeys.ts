import { type KeyboardEvent, useCallback, useState } from "react";
import { cellId } from "./StudentRow";

/** One active cell, moved by the arrow keys; Enter follows its link by itself. */
export function useGridKeys(lines: number, columns: number, reveal: (line: number) => void) {
  const [active, setActive] = useState({ line: 0, column: 0 });
  const activate = useCallback((line: number, column: number) => setActive({ line, column }), []);
  const onKeyDown = (event: KeyboardEvent) => {
    const steps: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-10, 0],
      PageDown: [10, 0],
      Home: [0, -columns],
      End: [0, columns],
    };
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const line = Math.min(Math.max(active.line + step[0], 0), lines - 1);
    const column = Math.min(Math.max(active.column + step[1], 0), columns - 1);
    setActive({ line, column });
    reveal(line);
    // The line may have to be drawn first.
    requestAnimationFrame(() =>
      requestAnimationFrame(() => document.getElementById(cellId(line, column))?.focus()),
    );
  };
  return { active, activate, onKeyDown };
}
