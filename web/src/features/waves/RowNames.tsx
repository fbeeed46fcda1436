import { ChevronDown, ChevronRight } from "lucide-react";
import { type KeyboardEvent, useState } from "react";
import { useCommands } from "@/kit/commands";
import { show, valueAt } from "./model";
import type { Drawn } from "./rows";
import type { useRows } from "./useRows";
import { HEAD, LANE } from "./WaveCanvas";

interface Props {
  rows: Drawn[];
  selected: number;
  /** Rows chosen beside the selected one. */
  also: number[];
  onSelect: (row: number, add: boolean) => void;
  cursor: number;
  edit: ReturnType<typeof useRows>;
}

/** The names of the rows with their values at the cursor. They are dragged, or moved with Alt and an arrow key. */
export function RowNames({ rows, selected, also, onSelect, cursor, edit }: Props) {
  const [over, setOver] = useState<number | null>(null);
  useCommands([
    { title: "Move the lane", group: "Names of lanes", keys: "Alt+Up, Alt+Down" },
    { title: "Take the lane out", group: "Names of lanes", keys: "Delete" },
  ]);
  const onKeyDown = (event: KeyboardEvent, at: number) => {
    const row = rows[at];
    const next = rows[at + 1];
    if (row === undefined) return;
    if (event.altKey && event.key === "ArrowUp" && at > 0) {
      edit.move(row.index, rows[at - 1]?.index ?? 0);
      onSelect(at - 1, false);
    } else if (event.altKey && event.key === "ArrowDown" && next !== undefined) {
      edit.move(row.index, next.index + 1);
      onSelect(at + 1, false);
    } else if (event.key === "Delete") {
      edit.remove(row.index);
    } else return;
    event.preventDefault();
  };
  return (
    <ul className="w-32 shrink-0 border-r border-rule sm:w-56" style={{ paddingTop: HEAD }}>
      {rows.map((row, at) => {
        const isChosen = at === selected || also.includes(at);
        const look = isChosen ? "bg-tint" : "hover:bg-tint";
        return (
          <li
            key={`${row.index} ${row.path}`}
            style={{ height: LANE }}
            className={over === at ? "border-t-2 border-ink" : ""}
            draggable
            onDragStart={(event) => event.dataTransfer.setData("text/plain", String(row.index))}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(at);
            }}
            onDragLeave={() => setOver(null)}
            onDrop={(event) => {
              event.preventDefault();
              setOver(null);
              edit.move(Number(event.dataTransfer.getData("text/plain")), row.index);
            }}
          >
            <button
              type="button"
              aria-pressed={isChosen}
              onClick={(event) => {
                if (row.row.kind === "heading" && at === selected) edit.fold(row.index);
                onSelect(at, event.shiftKey || event.ctrlKey || event.metaKey);
              }}
              onKeyDown={(event) => onKeyDown(event, at)}
              className={`flex h-full w-full items-center justify-between gap-2 px-2 text-left text-sm ${look}`}
            >
              {row.row.kind === "heading" ? (
                <span className="flex min-w-0 items-center gap-1 font-bold">
                  {row.row.folded === true ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
                  <span className="truncate">{row.title}</span>
                </span>
              ) : (
                <span className="mono truncate" title={row.path}>
                  {row.role === "expected" && <span className="font-sans text-ink-soft">expected </span>}
                  {row.title}
                </span>
              )}
              {row.steps !== null && (
                <span className="mono shrink-0 font-bold">
                  {show(valueAt(row.steps, cursor), row.radix, row.steps.literals)}
                </span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}
