import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { WaveLane } from "@/api/types";
import { coloursOf, draw } from "./draw";
import { edge, type Radix, timeText } from "./model";
import type { useWindow } from "./useWindow";

export const LANE = 30;
export const HEAD = 26;

interface Props {
  lanes: WaveLane[];
  selected: number;
  onSelect: (lane: number) => void;
  radix: (lane: WaveLane) => Radix;
  view: ReturnType<typeof useWindow>;
}

/** The drawn lanes. Arrow keys go from edge to edge and from lane to lane, plus, minus and 0 zoom. */
export function WaveCanvas({ lanes, selected, onSelect, radix, view }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(600);
  const height = HEAD + lanes.length * LANE;
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
    const colours = coloursOf(element);
    draw(pen, { lanes, radix, from, to, cursor, width, lane: LANE, head: HEAD }, colours);
  });
  const timeOf = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return view.from + ((event.clientX - box.left) / box.width) * (view.to - view.from);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const lane = lanes[selected];
    const actions: Record<string, () => void> = {
      ArrowRight: () => lane !== undefined && view.move(edge(lane, view.cursor, true)),
      ArrowLeft: () => lane !== undefined && view.move(edge(lane, view.cursor, false)),
      ArrowDown: () => onSelect(Math.min(selected + 1, lanes.length - 1)),
      ArrowUp: () => onSelect(Math.max(selected - 1, 0)),
      "+": () => view.zoom(0.5, view.cursor),
      "-": () => view.zoom(2, view.cursor),
      "0": view.fit,
      PageDown: () => view.pan(0.8),
      PageUp: () => view.pan(-0.8),
    };
    const action = actions[event.key];
    if (action === undefined) return;
    event.preventDefault();
    action();
  };
  return (
    <canvas
      ref={canvas}
      className="block w-full cursor-crosshair"
      style={{ height }}
      tabIndex={0}
      role="slider"
      aria-label="Time cursor over the waves"
      aria-valuemin={0}
      aria-valuemax={view.to}
      aria-valuenow={view.cursor}
      aria-valuetext={timeText(view.cursor)}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => view.move(timeOf(event))}
      onPointerMove={(event) => event.buttons === 1 && view.move(timeOf(event))}
    />
  );
}
