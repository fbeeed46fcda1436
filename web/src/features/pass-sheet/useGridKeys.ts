import { type KeyboardEvent, useCallback, useRef, useState } from "react";
import { cellId } from "./StudentRow";

/** One active cell, moved by the arrow keys; Enter follows its link by itself. */
export function useGridKeys(lines: number, columns: number, reveal: (line: number) => void) {
  const [active, setActive] = useState({ line: 0, column: 0 });
  // Where the keys have got to: the picture may lag behind a held-down key.
  const wanted = useRef(active);
  const activate = useCallback((line: number, column: number) => {
    wanted.current = { line, column };
    setActive({ line, column });
  }, []);
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
    const line = Math.min(Math.max(wanted.current.line + step[0], 0), lines - 1);
    const column = Math.min(Math.max(wanted.current.column + step[1], 0), columns - 1);
    activate(line, column);
    reveal(line);
    // The line may have to be drawn first.
    const focus = () => document.getElementById(cellId(wanted.current.line, wanted.current.column))?.focus();
    requestAnimationFrame(() => requestAnimationFrame(focus));
  };
  return { active, activate, onKeyDown };
}
