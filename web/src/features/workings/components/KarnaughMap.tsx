import type { KeyboardEvent, Ref } from "react";
import type { RowCursor } from "@/cursor/useRowCursor";
import { useCommands } from "@/kit/commands";
import { groupLook, groupName } from "../model/groups";
import { bits, cellOf, covers, gray, type MapPlan, mapsOf, type Run, rowAt, runs } from "../model/map";

interface Props {
  plan: MapPlan;
  inputs: string[];
  /** A letter for each row: 0, 1 or -. */
  values: string;
  /** Cubes to draw as groups. */
  groups: string[];
  cursor: RowCursor;
  label: string;
  /** What a design does in place of the value, where that is wrong. */
  actual?: string;
  /** Sets the cell under the cursor; absent where nothing may be changed. */
  onSet?: (row: number, value: string) => void;
  ref?: Ref<SVGSVGElement>;
}

const CELL = 54;
const TOP = 58;
const GAP = 34;

/** Where a group's line runs: three-sided where it goes on at the other edge. */
function outline(down: Run, across: Run, inset: number): string {
  const x1 = across.start * CELL + (across.openBefore ? -9 : inset);
  const x2 = (across.start + across.length) * CELL - (across.openAfter ? -9 : inset);
  const y1 = down.start * CELL + (down.openBefore ? -9 : inset);
  const y2 = (down.start + down.length) * CELL - (down.openAfter ? -9 : inset);
  const r = 9;
  const closed = !across.openBefore && !across.openAfter && !down.openBefore && !down.openAfter;
  if (closed) {
    return `M${x1 + r} ${y1}H${x2 - r}Q${x2} ${y1} ${x2} ${y1 + r}V${y2 - r}Q${x2} ${y2} ${x2 - r} ${y2}H${x1 + r}Q${x1} ${y2} ${x1} ${y2 - r}V${y1 + r}Q${x1} ${y1} ${x1 + r} ${y1}Z`;
  }
  const sides = [
    down.openBefore ? "" : `M${x1} ${y1}H${x2}`,
    down.openAfter ? "" : `M${x1} ${y2}H${x2}`,
    across.openBefore ? "" : `M${x1} ${y1}V${y2}`,
    across.openAfter ? "" : `M${x2} ${y1}V${y2}`,
  ];
  return sides.join("");
}

/** Karnaugh maps of up to six inputs; five and six as a stack. Arrow keys move the row cursor, 0, 1 and - set its cell. */
export function KarnaughMap({ plan, inputs, values, groups, cursor, label, actual, onSet, ref }: Props) {
  const rows = 2 ** plan.down.length;
  const columns = 2 ** plan.across.length;
  const maps = 2 ** plan.pick.length;
  const wide = Math.min(maps, 2);
  // Room for the names of the inputs that run down.
  const left = Math.max(56, plan.down.map((i) => inputs[i] ?? "").join(" ").length * 8 + 26);
  const stepX = left + columns * CELL + GAP;
  const stepY = TOP + rows * CELL + GAP;
  const here = cellOf(plan, cursor.row);
  const names = (list: number[]) => list.map((i) => inputs[i] ?? "").join(" ");
  useCommands([
    { title: "Move the row cursor", group: "Map", keys: "Arrow keys" },
    { title: "The next map, where there are several", group: "Map", keys: "Page Down" },
    { title: "Set the cell, where the table is edited", group: "Map", keys: "0, 1, -" },
  ]);
  const onKeyDown = (event: KeyboardEvent) => {
    const step: Record<string, [number, number]> = {
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
    };
    const move = step[event.key];
    if (move !== undefined) {
      event.preventDefault();
      const r = (here.r + move[0] + rows) % rows;
      const c = (here.c + move[1] + columns) % columns;
      cursor.setRow(rowAt(plan, here.map, r, c));
    } else if (event.key === "PageDown" || event.key === "PageUp") {
      event.preventDefault();
      const map = (here.map + (event.key === "PageDown" ? 1 : maps - 1)) % maps;
      cursor.setRow(rowAt(plan, map, here.r, here.c));
    } else if (onSet !== undefined && ["0", "1", "-", "x"].includes(event.key)) {
      event.preventDefault();
      onSet(cursor.row, event.key === "x" ? "-" : event.key);
    }
  };
  const isWrong = (row: number) => {
    const [wanted, is] = [values[row] ?? "", actual?.[row] ?? ""];
    return is !== "" && wanted !== "" && wanted !== "-" && wanted !== is;
  };
  const list = Array.from({ length: maps }, (_, map) => map);
  const text = bits(cursor.row, inputs.length);
  return (
    <svg
      ref={ref}
      viewBox={`-8 -8 ${wide * stepX} ${Math.ceil(maps / 2) * stepY}`}
      className="w-full"
      style={{ maxWidth: wide * stepX }}
      role="application"
      aria-label={`${label}, row ${cursor.row} (${text}) is ${values[cursor.row] ?? ""}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      fontFamily="var(--font-mono), monospace"
    >
      {list.map((map) => (
        <g key={map} transform={`translate(${(map % 2) * stepX} ${Math.floor(map / 2) * stepY})`}>
          {plan.pick.length > 0 && (
            <text x={left} y={6} fontSize="14" fontWeight="bold" fill="var(--ink)">
              {plan.pick.map((i, k) => `${inputs[i]}=${bits(map, plan.pick.length)[k]}`).join("  ")}
            </text>
          )}
          <text x={left - 10} y={TOP - 10} fontSize="13" textAnchor="end" fill="var(--ink)">
            {names(plan.down)}
          </text>
          <text
            x={left + (columns * CELL) / 2}
            y={TOP - 28}
            fontSize="13"
            textAnchor="middle"
            fill="var(--ink)"
          >
            {names(plan.across)}
          </text>
          {Array.from({ length: columns }, (_, c) => (
            <text
              key={`across ${bits(gray(c), plan.across.length)}`}
              x={left + (c + 0.5) * CELL}
              y={TOP - 8}
              fontSize="12"
              textAnchor="middle"
              fill="var(--ink-soft)"
            >
              {bits(gray(c), plan.across.length)}
            </text>
          ))}
          {Array.from({ length: rows }, (_, r) => (
            <text
              key={`down ${bits(gray(r), plan.down.length)}`}
              x={left - 8}
              y={TOP + (r + 0.5) * CELL + 4}
              fontSize="12"
              textAnchor="end"
              fill="var(--ink-soft)"
            >
              {bits(gray(r), plan.down.length)}
            </text>
          ))}
          <g transform={`translate(${left} ${TOP})`}>
            {Array.from({ length: rows * columns }, (_, i) => {
              const r = Math.floor(i / columns);
              const c = i % columns;
              const row = rowAt(plan, map, r, c);
              const value = values[row] ?? "";
              const current = row === cursor.row;
              return (
                // biome-ignore lint/a11y/noStaticElementInteractions: the map as a whole takes the keys
                <g key={row} onClick={() => cursor.setRow(row)} className="cursor-pointer">
                  <rect
                    x={c * CELL}
                    y={r * CELL}
                    width={CELL}
                    height={CELL}
                    fill={current ? "var(--tint)" : value === "1" ? "var(--amber-wash)" : "var(--sheet)"}
                    stroke={current ? "var(--ink)" : "var(--rule)"}
                    strokeWidth={current ? 2.5 : 1}
                  />
                  {isWrong(row) && (
                    <>
                      <path
                        d={`M${c * CELL + 3} ${(r + 1) * CELL - 3}L${(c + 1) * CELL - 3} ${r * CELL + 3}`}
                        stroke="var(--rust)"
                        strokeWidth="2"
                      />
                      <text
                        x={(c + 1) * CELL - 7}
                        y={(r + 1) * CELL - 7}
                        textAnchor="end"
                        fontSize="13"
                        fontWeight="bold"
                        fill="var(--rust-ink)"
                      >
                        {actual?.[row]?.toLowerCase()}
                      </text>
                    </>
                  )}
                  <text
                    x={(c + (isWrong(row) ? 0.3 : 0.5)) * CELL}
                    y={(r + (isWrong(row) ? 0.3 : 0.5)) * CELL + 6}
                    textAnchor="middle"
                    fontSize="17"
                    fontWeight={value === "1" ? "bold" : "normal"}
                    fill={value === "1" ? "var(--amber-ink)" : "var(--ink)"}
                  >
                    {value === "-" ? "–" : value}
                  </text>
                </g>
              );
            })}
            {groups.map((cube, index) => {
              if (!mapsOf(plan, cube).includes(map)) return null;
              const look = groupLook(index);
              const lit = covers(cube, cursor.row);
              const path = runs(cube, plan.down)
                .flatMap((d) => runs(cube, plan.across).map((a) => outline(d, a, 3 + (index % 5) * 2.6)))
                .join("");
              return (
                <path
                  key={cube}
                  d={path}
                  fill="none"
                  stroke={look.colour}
                  strokeWidth={lit ? 3.6 : 2.2}
                  strokeDasharray={look.dash === "" ? undefined : look.dash}
                  pointerEvents="none"
                >
                  <title>{groupName(index)}</title>
                </path>
              );
            })}
            {/* Above the groups, on a halo, so that no line strikes a number through. */}
            {Array.from({ length: rows * columns }, (_, i) => {
              const r = Math.floor(i / columns);
              const c = i % columns;
              const row = rowAt(plan, map, r, c);
              return (
                <text
                  key={row}
                  x={c * CELL + 8}
                  y={(r + 1) * CELL - 8}
                  fontSize="9"
                  fill="var(--ink-soft)"
                  stroke="var(--sheet)"
                  strokeWidth="3"
                  paintOrder="stroke"
                  pointerEvents="none"
                >
                  {row}
                </text>
              );
            })}
          </g>
        </g>
      ))}
    </svg>
  );
}
