import type { Lane, LaneRole } from "@/api/schema";
import type { Radix, Steps } from "./model";

/** A signal, or one bit of it (0 is the least significant). */
export interface Part {
  key: string;
  bit?: number;
}

/** A line of the view, as it is kept with the exercise. */
export type Row =
  | { kind: "lane"; key: string; radix?: Radix }
  | { kind: "bit"; key: string; bit: number }
  | { kind: "bus"; title: string; parts: Part[]; radix?: Radix }
  | { kind: "heading"; title: string; folded?: boolean };

/** A line with what it shows. */
export interface Drawn {
  row: Row;
  /** Its number among all rows. */
  index: number;
  title: string;
  path: string;
  role: LaneRole | null;
  steps: Steps | null;
  radix: Radix;
}

export function keyOf(lane: Lane): string {
  const role = lane.role === "expected" ? "expected:" : "";
  return role + [...lane.scopes, lane.name].join(".");
}

/** Inputs and outputs with what is expected under each; else the signals of the outermost scope. */
export function usualRows(lanes: Lane[]): Row[] {
  const ports = lanes.filter((l) => l.role !== "inner");
  const least = Math.min(...lanes.map((l) => l.scopes.length));
  const list = ports.length > 0 ? ports : lanes.filter((l) => l.scopes.length === least).slice(0, 40);
  return list.map((l) => ({ kind: "lane", key: keyOf(l) }));
}

function bitOf(lane: Lane, bit: number): Steps {
  const times: number[] = [];
  const values: string[] = [];
  lane.values.forEach((value, at) => {
    const level = value[lane.width - 1 - bit] ?? "X";
    if (level === values.at(-1)) return;
    times.push(lane.times[at] ?? 0);
    values.push(level);
  });
  return { width: 1, literals: [], times, values, differs: lane.differs };
}

/** Signals side by side as one vector, the first one the most significant. */
function joined(parts: Steps[]): Steps {
  const times = [...new Set(parts.flatMap((p) => p.times))].sort((a, b) => a - b);
  const places = parts.map(() => 0);
  const values = times.map((time) =>
    parts
      .map((part, k) => {
        let at = places[k] ?? 0;
        while ((part.times[at + 1] ?? Number.POSITIVE_INFINITY) <= time) at++;
        places[k] = at;
        return part.values[at] ?? "X";
      })
      .join(""),
  );
  const width = parts.reduce((sum, p) => sum + p.width, 0);
  return { width, literals: [], times, values, differs: [] };
}

/** What the rows show; those whose signals are not there are left out, and so are those of folded headings. */
export function drawn(rows: Row[], lanes: Lane[]): Drawn[] {
  const byKey = new Map(lanes.map((l) => [keyOf(l), l]));
  const list: Drawn[] = [];
  let folded = false;
  rows.forEach((row, index) => {
    if (row.kind === "heading") {
      folded = row.folded === true;
      list.push({
        row,
        index,
        title: row.title,
        path: row.title,
        role: null,
        steps: null,
        radix: "unsigned",
      });
      return;
    }
    if (folded) return;
    if (row.kind === "bus") {
      const parts = row.parts.map((p) => {
        const lane = byKey.get(p.key);
        if (lane === undefined) return null;
        return p.bit === undefined ? lane : bitOf(lane, p.bit);
      });
      if (parts.some((p) => p === null)) return;
      const steps = joined(parts.filter((p) => p !== null));
      const path = row.parts.map((p) => p.key).join(", ");
      list.push({ row, index, title: row.title, path, role: "inner", steps, radix: row.radix ?? "unsigned" });
      return;
    }
    const lane = byKey.get(row.key);
    if (lane === undefined) return;
    const path = [...lane.scopes, lane.name].join(".");
    if (row.kind === "bit") {
      const title = `${lane.name}.${row.bit}`;
      list.push({ row, index, title, path, role: lane.role, steps: bitOf(lane, row.bit), radix: "binary" });
      return;
    }
    const usual: Radix = lane.literals.length > 0 ? "name" : "unsigned";
    list.push({
      row,
      index,
      title: lane.name,
      path,
      role: lane.role,
      steps: lane,
      radix: row.radix ?? usual,
    });
  });
  return list;
}

/** The lanes that the rows are made of. */
export function keysOf(rows: Row[]): string[] {
  const keys = rows.flatMap((r) => {
    if (r.kind === "heading") return [];
    return r.kind === "bus" ? r.parts.map((p) => p.key) : [r.key];
  });
  return [...new Set(keys)];
}

/** Moves a row to before another one. */
export function moved(rows: Row[], from: number, to: number): Row[] {
  const row = rows[from];
  if (row === undefined) return rows;
  const rest = rows.filter((_, i) => i !== from);
  rest.splice(to > from ? to - 1 : to, 0, row);
  return rest;
}

/** The chosen rows as one vector in their order, where the first of them stood. */
export function combined(rows: Row[], chosen: number[], lanes: Lane[]): Row[] {
  const order = [...chosen].sort((a, b) => a - b);
  const parts = order.flatMap((i): Part[] => {
    const row = rows[i];
    if (row === undefined || row.kind === "heading") return [];
    return row.kind === "bus"
      ? row.parts
      : [row.kind === "bit" ? { key: row.key, bit: row.bit } : { key: row.key }];
  });
  if (parts.length < 2) return rows;
  const names = parts.map((p) => (lanes.find((l) => keyOf(l) === p.key)?.name ?? p.key) + (p.bit ?? ""));
  const title = names.length > 3 ? `${names[0]}…${names.at(-1)}` : names.join("&");
  const first = order[0] ?? 0;
  return rows.flatMap((row, i) => {
    if (i === first) return [{ kind: "bus", title, parts } satisfies Row];
    return order.includes(i) ? [] : [row];
  });
}

/** A vector as its bits, the most significant first; a combined one as its parts. */
export function split(rows: Row[], index: number, lanes: Lane[]): Row[] {
  return rows.flatMap((row, i): Row[] => {
    if (i !== index) return [row];
    if (row.kind === "bus") {
      return row.parts.map((p) =>
        p.bit === undefined ? { kind: "lane", key: p.key } : { kind: "bit", key: p.key, bit: p.bit },
      );
    }
    const lane = row.kind === "lane" ? lanes.find((l) => keyOf(l) === row.key) : undefined;
    if (lane === undefined || lane.width < 2 || lane.width > 64) return [row];
    return Array.from({ length: lane.width }, (_, k) => ({
      kind: "bit",
      key: keyOf(lane),
      bit: lane.width - 1 - k,
    }));
  });
}

/** Rows that were kept as text; the usual ones when it is none or fits nothing. */
export function rowsFrom(text: string | null, lanes: Lane[]): Row[] {
  try {
    const whole: unknown = text === null ? null : JSON.parse(text);
    const kept = typeof whole === "object" && whole !== null && "rows" in whole ? whole.rows : whole;
    const isRow = (row: unknown): row is Row =>
      typeof row === "object" && row !== null && "kind" in row && typeof row.kind === "string";
    if (Array.isArray(kept) && kept.every(isRow) && drawn(kept, lanes).some((d) => d.steps !== null))
      return kept;
  } catch {
    // A text of an older version: the usual rows do.
  }
  return usualRows(lanes);
}

/** What is kept beside the rows: the stretch in sight, null for the whole run, and the two marks. */
export interface Sight {
  range: [number, number] | null;
  marks: [number | null, number | null];
}

/** The stretch in sight and the marks as they were kept; a text without them has none. */
export function sightFrom(text: string | null): Sight {
  const none: Sight = { range: null, marks: [null, null] };
  const isTime = (value: unknown): value is number =>
    typeof value === "number" && Number.isFinite(value) && value >= 0;
  try {
    const kept: unknown = text === null ? null : JSON.parse(text);
    if (typeof kept !== "object" || kept === null) return none;
    const { range, marks } = kept as { range?: unknown; marks?: unknown };
    const pair = (value: unknown): [unknown, unknown] =>
      Array.isArray(value) && value.length === 2 ? [value[0], value[1]] : [null, null];
    const [from, to] = pair(range);
    const [one, two] = pair(marks);
    return {
      range: isTime(from) && isTime(to) && from < to ? [from, to] : null,
      marks: [isTime(one) ? one : null, isTime(two) ? two : null],
    };
  } catch {
    return none;
  }
}
