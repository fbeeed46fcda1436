/** Cells of the pass sheet and the way between them. */

export interface Cell {
  /** The line of a student from 0, or the column heads. */
  line: number;
  column: number;
}

/** The line of the column heads. */
export const HEAD = -1;

export function cellId(line: number, column: number): string {
  return `cell-${line}-${column}`;
}

/** Where a key leads from a cell; null for keys that lead nowhere. */
export function moved(
  from: Cell,
  key: string,
  withCtrl: boolean,
  lines: number,
  columns: number,
): Cell | null {
  const within = (line: number, column: number): Cell => ({
    line: Math.max(Math.min(line, lines - 1), HEAD),
    column: Math.max(Math.min(column, columns - 1), 0),
  });
  const { line, column } = from;
  switch (key) {
    case "ArrowUp":
      return within(line - 1, column);
    case "ArrowDown":
      return within(line + 1, column);
    case "ArrowLeft":
      return within(line, column - 1);
    case "ArrowRight":
      return within(line, column + 1);
    case "PageUp":
      return within(Math.max(line - 10, Math.min(line, 0)), column);
    case "PageDown":
      return within(line + 10, column);
    case "Home":
      return within(withCtrl ? HEAD : line, 0);
    case "End":
      return within(withCtrl ? lines - 1 : line, columns - 1);
    default:
      return null;
  }
}
