import { type KeyboardEvent, useCallback, useEffect, useRef } from "react";
import { useNavigationType } from "react-router";
import { useCommands } from "@/kit/commands";
import { useKept } from "@/kit/useKept";
import { type Cell, cellId, HEAD, moved } from "./cells";

/**
 * One active cell, moved by the arrow keys; Enter follows its link by itself. Column heads are the line above the first.
 * Coming back finds the cell again, with the focus.
 */
export function useGridKeys(key: string, lines: number, columns: number, reveal: (line: number) => void) {
  const [cell, keep] = useKept<Cell | null>(key, null);
  const kept = cell ?? { line: 0, column: 0 };
  const wasThere = useRef(cell !== null);
  const isBack = useNavigationType() === "POP";
  const active = { line: Math.min(kept.line, lines - 1), column: Math.min(kept.column, columns - 1) };
  // Where the keys have got to: the picture may lag behind a held-down key.
  const wanted = useRef(active);
  const activate = useCallback(
    (line: number, column: number) => {
      wanted.current = { line, column };
      keep({ line, column });
    },
    [keep],
  );
  const focus = useCallback(() => {
    const cell = () => document.getElementById(cellId(wanted.current.line, wanted.current.column));
    const drawn = cell();
    // At once, so that the next key goes to it; where the line has to be drawn first, then.
    if (drawn !== null) drawn.focus();
    else requestAnimationFrame(() => requestAnimationFrame(() => cell()?.focus()));
  }, []);
  const first = useRef(true);
  const shown = useRef(reveal);
  shown.current = reveal;
  useEffect(() => {
    if (!first.current) return;
    first.current = false;
    if (!isBack || !wasThere.current) return;
    if (wanted.current.line > HEAD) shown.current(wanted.current.line);
    focus();
  }, [isBack, focus]);
  const onKeyDown = (event: KeyboardEvent) => {
    const next = moved(wanted.current, event.key, event.ctrlKey || event.metaKey, lines, columns);
    if (next === null) return;
    event.preventDefault();
    activate(next.line, next.column);
    if (next.line > HEAD) reveal(next.line);
    focus();
  };
  useCommands([
    { title: "Move from cell to cell, and up to the column heads", group: "Pass sheet", keys: "Arrow keys" },
    { title: "Ten lines up or down", group: "Pass sheet", keys: "Page Up, Page Down" },
    { title: "First or last exercise of the line", group: "Pass sheet", keys: "Home, End" },
    { title: "First or last cell of the sheet", group: "Pass sheet", keys: "Ctrl+Home, Ctrl+End" },
    { title: "Open the hand-in or the exercise", group: "Pass sheet", keys: "Enter" },
  ]);
  return { active, activate, onKeyDown };
}
