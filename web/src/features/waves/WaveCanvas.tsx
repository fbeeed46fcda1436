import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { useCommands } from "@/kit/commands";
import { coloursOf, draw } from "./draw";
import { edge, timeText } from "./model";
import type { Drawn } from "./rows";
import type { useWindow } from "./useWindow";

export const LANE = 30;
export const HEAD = 26;

interface Props {
  rows: Drawn[];
  /** The chosen row, by its number among the drawn ones. */
  selected: number;
  onSelect: (row: number) => void;
  marks: (number | null)[];
  onMark: (number: 0 | 1) => void;
  onNextDifference: () => void;
  view: ReturnType<typeof useWindow>;
  /** A click draws in a row instead of moving the cursor; true when it did. */
  onDraw: ((row: Drawn, time: number) => boolean) | null;
  onEdge: ((key: string, time: number, forward: boolean) => Promise<number>) | null;
}

/** The drawn lanes. Arrow keys go from edge to edge and from lane to lane, plus, minus and 0 zoom. */
export function WaveCanvas(props: Props) {
  const { rows, selected, onSelect, marks, view } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const asked = useRef<Promise<number> | null>(null);
  const [width, setWidth] = useState(600);
  const height = HEAD + rows.length * LANE;
  useEffect(() => {
    const element = canvas.current?.parentElement;
    if (element === null || element === undefined) return;
    const watch = new ResizeObserver(() => setWidth(Math.max(element.clientWidth, 100)));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (element === null || pen === null || pen === undefined) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = width * ratio;
    element.height = height * ratio;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    const { from, to, cursor } = view;
    draw(pen, { rows, marks, from, to, cursor, width, lane: LANE, head: HEAD }, coloursOf(element));
  });
  // The wheel zooms once the waves have the focus; before that it scrolls the page.
  const { zoom, pan, from, to } = view;
  useEffect(() => {
    const element = canvas.current;
    if (element === null) return;
    const onWheel = (event: WheelEvent) => {
      if (document.activeElement !== element) return;
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const time = from + ((event.clientX - box.left) / box.width) * (to - from);
      if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) pan(event.deltaX / box.width);
      else zoom(event.deltaY > 0 ? 1.25 : 0.8, time);
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [zoom, pan, from, to]);
  const timeOf = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return view.from + ((event.clientX - box.left) / box.width) * (view.to - view.from);
  };
  const onPointerDown = (event: PointerEvent) => {
    const row = Math.floor((event.clientY - event.currentTarget.getBoundingClientRect().top - HEAD) / LANE);
    const hit = rows[row];
    if (hit !== undefined && hit.steps !== null) {
      onSelect(row);
      if (props.onDraw?.(hit, timeOf(event)) === true) return;
    }
    view.move(timeOf(event));
  };
  useCommands([
    { title: "To the next or the previous edge", group: "Waves", keys: "Right, Left" },
    { title: "Another lane", group: "Waves", keys: "Up, Down" },
    { title: "Closer or farther", group: "Waves", keys: "+, -" },
    { title: "The whole run", group: "Waves", keys: "0" },
    { title: "Put mark 1 or 2", group: "Waves", keys: "1, 2" },
    { title: "To the next difference", group: "Waves", keys: "n" },
    { title: "On or back by a window", group: "Waves", keys: "Page Up, Page Down" },
  ]);
  const onKeyDown = (event: KeyboardEvent) => {
    const chosen = rows[selected];
    const steps = chosen?.steps ?? null;
    const step = (forward: boolean) => {
      if (steps === null) return;
      // A lane of its own is asked for beyond the window; what is joined from several stays within it.
      if (props.onEdge !== null && chosen?.row.kind === "lane") {
        const [{ key }, onEdge] = [chosen.row, props.onEdge];
        // Steps that follow quickly go on from each other, not from where the cursor was.
        const next = (asked.current ?? Promise.resolve(view.now())).then((at) => onEdge(key, at, forward));
        asked.current = next;
        const settle = () => {
          if (asked.current === next) asked.current = null;
        };
        next.then((at) => view.move(at)).then(settle, settle);
      } else view.move(edge(steps, view.now(), forward));
    };
    const actions: Record<string, () => void> = {
      ArrowRight: () => step(true),
      ArrowLeft: () => step(false),
      ArrowDown: () => onSelect(Math.min(selected + 1, rows.length - 1)),
      ArrowUp: () => onSelect(Math.max(selected - 1, 0)),
      "+": () => view.zoom(0.5, view.cursor),
      "-": () => view.zoom(2, view.cursor),
      "0": view.fit,
      "1": () => props.onMark(0),
      "2": () => props.onMark(1),
      n: props.onNextDifference,
      PageDown: () => view.pan(0.8),
      PageUp: () => view.pan(-0.8),
    };
    const action = event.altKey || event.ctrlKey || event.metaKey ? undefined : actions[event.key];
    if (action === undefined) return;
    event.preventDefault();
    action();
  };
  return (
    <canvas
      ref={canvas}
      className="block w-full cursor-crosshair touch-pan-y"
      style={{ height }}
      tabIndex={0}
      role="slider"
      aria-label="Time cursor over the waves"
      aria-valuemin={0}
      aria-valuemax={view.whole}
      aria-valuenow={view.cursor}
      aria-valuetext={timeText(view.cursor)}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      onPointerMove={(event) => event.buttons === 1 && props.onDraw === null && view.move(timeOf(event))}
    />
  );
}
