import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, useEffect, useRef } from "react";
import type { Column } from "@/api/schema";
import { type RowCursor, rowText } from "@/cursor/useRowCursor";
import { useCommands } from "@/kit/commands";
import { Level } from "@/kit/Level";

interface Props {
  inputs: string[];
  /** Expected outputs; without values the cells stay empty. */
  outputs: Column[];
  /** What a hand-in does; drawn beside the expected value where they differ. */
  actual?: Column[];
  cursor: RowCursor;
  /** The rows to show, in order; all when absent. */
  rows?: number[];
  label: string;
  maxHeight: string;
  /** Lets cells of the outputs be changed. */
  edit?: TableEdit;
}

/** Which output column is at work, and how to set its cell on the cursor's row. */
export interface TableEdit {
  output: number;
  setOutput: (output: number) => void;
  /** Absent where nothing may be changed. */
  set?: (row: number, value: string) => void;
}

const LINE = 28;

/** Is the actual level wrong for the expected one? A don't-care never is. */
export function differs(expected: string, actual: string): boolean {
  return expected !== "-" && expected !== "" && actual !== "" && expected !== actual;
}

/** Left and right choose the column, 0, 1 and - set the cell. True when the key was one of these. */
function onEditKey(event: KeyboardEvent, edit: TableEdit, outputs: number, row: number): boolean {
  const side: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };
  const step = side[event.key];
  if (step !== undefined) edit.setOutput((edit.output + step + outputs) % outputs);
  else if (["0", "1", "-", "x"].includes(event.key)) edit.set?.(row, event.key === "x" ? "-" : event.key);
  else return false;
  event.preventDefault();
  return true;
}

/** A truth table with the row cursor: arrow keys, Home, End, Page keys and clicks move it. */
export function TruthTable({ inputs, outputs, actual, cursor, rows, label, maxHeight, edit }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const count = rows?.length ?? 2 ** inputs.length;
  const rowAt = (index: number) => (rows ? (rows[index] ?? 0) : index);
  const indexOf = (row: number) => (rows ? rows.indexOf(row) : row);
  const lines = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 20,
  });
  const here = indexOf(cursor.row);
  useEffect(() => {
    if (here >= 0) lines.scrollToIndex(here);
  }, [here, lines]);
  useCommands([
    { title: "Move the row cursor", group: "Truth table", keys: "Arrow keys" },
    { title: "Eight rows up or down", group: "Truth table", keys: "Page Up, Page Down" },
    { title: "First or last row", group: "Truth table", keys: "Home, End" },
  ]);
  const onKeyDown = (event: KeyboardEvent) => {
    if (edit !== undefined && onEditKey(event, edit, outputs.length, cursor.row)) return;
    const steps: Record<string, number> = {
      ArrowUp: -1,
      ArrowDown: 1,
      PageUp: -8,
      PageDown: 8,
      Home: -count,
      End: count,
    };
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    cursor.setRow(rowAt(Math.min(Math.max(here + step, 0), count - 1)));
  };
  const isWide = (k: number) =>
    [...(outputs[k]?.values ?? "")].some((v, row) => differs(v, actual?.[k]?.values[row] ?? ""));
  // Head and lines are grids of their own: widths follow from the names alone, so that they agree.
  const width = (name: string, least: number) => {
    const rem = Math.max(least, name.length * 0.62 + 0.8);
    return `minmax(${rem}rem, ${rem}fr)`;
  };
  const columns = [
    "3rem",
    ...inputs.map((name) => width(name, 1.9)),
    "0.8rem",
    ...outputs.map((o, k) => width(o.name, isWide(k) ? 4.8 : 1.9)),
  ].join(" ");
  return (
    <div
      ref={box}
      tabIndex={0}
      role="grid"
      aria-label={label}
      aria-rowcount={count}
      aria-activedescendant={`row-${cursor.row}`}
      onKeyDown={onKeyDown}
      className="overflow-auto border border-rule bg-sheet"
      style={{ maxHeight }}
    >
      <div className="mx-auto w-max min-w-full">
        <div
          role="row"
          className="sticky top-0 z-[1] grid border-b-2 border-rule-strong bg-sheet text-center text-sm font-bold"
          style={{ gridTemplateColumns: columns }}
        >
          <div role="columnheader" className="px-1 text-ink-soft font-normal">
            row
          </div>
          {inputs.map((name) => (
            <div role="columnheader" key={name} className="px-1.5">
              {name}
            </div>
          ))}
          <div role="presentation" className="border-r-2 border-rule-strong" />
          {outputs.map((o, k) => (
            <div
              role="columnheader"
              key={o.name}
              className={`px-1.5 ${edit?.output === k ? "underline decoration-2 underline-offset-4" : ""}`}
            >
              {o.name}
            </div>
          ))}
        </div>
        <div role="presentation" style={{ height: lines.getTotalSize(), position: "relative" }}>
          {lines.getVirtualItems().map((item) => {
            const row = rowAt(item.index);
            const bits = rowText(row, inputs.length);
            const current = row === cursor.row;
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the table as a whole takes the keys
              <div
                key={item.key}
                id={`row-${row}`}
                role="row"
                tabIndex={-1}
                aria-selected={current}
                onClick={() => cursor.setRow(row)}
                className={`absolute left-0 grid w-full cursor-pointer items-center text-center ${current ? "row-cursor" : "hover:bg-tint"} ${row % 4 === 3 ? "border-b border-rule" : ""}`}
                style={{ top: item.start, height: LINE, gridTemplateColumns: columns }}
              >
                <div role="gridcell" className="text-sm tabular-nums text-ink-soft">
                  {row}
                </div>
                {inputs.map((name, i) => (
                  <div role="gridcell" key={name}>
                    <Level value={bits[i] ?? ""} />
                  </div>
                ))}
                <div role="presentation" className="h-full border-r-2 border-rule-strong" />
                {outputs.map((o, k) => {
                  const expected = o.values[row] ?? "";
                  const is = actual?.[k]?.values[row] ?? "";
                  const wrong = differs(expected, is);
                  return (
                    // biome-ignore lint/a11y/useKeyWithClickEvents: the table as a whole takes the keys
                    <div
                      role="gridcell"
                      key={o.name}
                      onClick={() => edit?.setOutput(k)}
                      className={`flex items-center justify-center gap-0.5 ${current && edit?.output === k ? "outline-2 -outline-offset-2 outline-focus" : ""}`}
                    >
                      {is !== "" ? <Level value={is} wrong={wrong} /> : <Level value={expected} />}
                      {wrong && <span className="mono text-sm text-rust-ink">not {expected}</span>}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}
