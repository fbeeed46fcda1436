import { useEffect, useRef, useState } from "react";
import type { Lane } from "@/api/schema";
import type { Radix } from "./model";
import { combined, moved, type Row, rowsFrom, type Sight, split, usualRows } from "./rows";

/** Seconds of rest before an arrangement is kept. */
const REST = 1_200;

/**
 * The rows of the view and what can be done to them. What is arranged — the rows, the stretch in `sight` and the marks — is
 * handed to `onKeep` after a rest, once something of it has changed.
 */
export function useRows(
  lanes: Lane[],
  kept: string | null,
  onKeep: ((text: string) => void) | null,
  sight: Sight,
) {
  const [rows, setRows] = useState<Row[]>(() => rowsFrom(kept, lanes));
  const keep = useRef(onKeep);
  keep.current = onKeep;
  const text = JSON.stringify({ rows, ...sight });
  const known = useRef(text);
  useEffect(() => {
    if (text === known.current) return;
    const timer = setTimeout(() => {
      known.current = text;
      keep.current?.(text);
    }, REST);
    return () => clearTimeout(timer);
  }, [text]);
  const change = setRows;
  return {
    rows,
    move: (from: number, to: number) => change(moved(rows, from, to)),
    remove: (index: number) => change(rows.filter((_, i) => i !== index)),
    combine: (chosen: number[]) => change(combined(rows, chosen, lanes)),
    split: (index: number) => change(split(rows, index, lanes)),
    heading: (before: number) => {
      const heading: Row = { kind: "heading", title: "Group" };
      change([...rows.slice(0, before), heading, ...rows.slice(before)]);
    },
    rename: (index: number, title: string) =>
      change(
        rows.map((r, i) => (i === index && (r.kind === "heading" || r.kind === "bus") ? { ...r, title } : r)),
      ),
    fold: (index: number) =>
      change(
        rows.map((r, i) => (i === index && r.kind === "heading" ? { ...r, folded: r.folded !== true } : r)),
      ),
    write: (index: number, radix: Radix) =>
      change(
        rows.map((r, i) => (i === index && (r.kind === "lane" || r.kind === "bus") ? { ...r, radix } : r)),
      ),
    toggle: (key: string) => {
      const there = rows.some((r) => r.kind === "lane" && r.key === key);
      change(
        there ? rows.filter((r) => r.kind !== "lane" || r.key !== key) : [...rows, { kind: "lane", key }],
      );
    },
    usual: () => change(usualRows(lanes)),
  };
}
