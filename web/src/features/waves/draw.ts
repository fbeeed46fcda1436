import type { WaveLane } from "@/api/types";
import { indexAt, type Radix, show, tickStep, timeText } from "./model";

export interface Frame {
  lanes: WaveLane[];
  radix: (lane: WaveLane) => Radix;
  /** Times at the left and right border, in femtoseconds. */
  from: number;
  to: number;
  cursor: number;
  width: number;
  lane: number;
  head: number;
}

type Colours = Record<"ink" | "soft" | "rule" | "amber" | "wash" | "violet" | "grey", string>;

export function coloursOf(element: HTMLElement): Colours {
  const style = getComputedStyle(element);
  const of = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: of("--ink"),
    soft: of("--ink-soft"),
    rule: of("--rule"),
    amber: of("--amber"),
    wash: of("--amber-wash"),
    violet: of("--violet"),
    grey: of("--rule-strong"),
  };
}

function hatch(pen: CanvasRenderingContext2D, x: number, y: number, w: number, h: number, colour: string) {
  pen.save();
  pen.beginPath();
  pen.rect(x, y, w, h);
  pen.clip();
  pen.strokeStyle = colour;
  pen.lineWidth = 1;
  pen.beginPath();
  for (let at = x - h; at < x + w; at += 5) {
    pen.moveTo(at, y + h);
    pen.lineTo(at + h, y);
  }
  pen.stroke();
  pen.strokeRect(x + 0.5, y + 0.5, Math.max(w - 1, 0), h - 1);
  pen.restore();
}

/** A stretch of one level: high thick amber over a wash, low a thin ink line, unknown hatched, floating dotted. */
function level(
  pen: CanvasRenderingContext2D,
  value: string,
  box: [number, number, number, number],
  c: Colours,
) {
  const [x, y, w, h] = box;
  if (value === "1" || value === "H") {
    pen.fillStyle = c.wash;
    pen.fillRect(x, y, w, h);
    pen.fillStyle = c.amber;
    pen.fillRect(x, y, w, 3);
  } else if (value === "0" || value === "L") {
    pen.fillStyle = c.ink;
    pen.fillRect(x, y + h - 1.5, w, 1.5);
  } else if (value === "Z") {
    pen.strokeStyle = c.grey;
    pen.setLineDash([2, 3]);
    pen.beginPath();
    pen.moveTo(x, y + h / 2);
    pen.lineTo(x + w, y + h / 2);
    pen.stroke();
    pen.setLineDash([]);
  } else {
    hatch(pen, x, y + 2, w, h - 4, c.violet);
  }
}

function bus(
  pen: CanvasRenderingContext2D,
  text: string,
  known: boolean,
  box: [number, number, number, number],
  c: Colours,
) {
  const [x, y, w, h] = box;
  if (!known) hatch(pen, x, y + 1, w, h - 2, c.violet);
  pen.strokeStyle = c.ink;
  pen.lineWidth = 1;
  pen.beginPath();
  pen.moveTo(x, y + 0.5);
  pen.lineTo(x + w, y + 0.5);
  pen.moveTo(x, y + h - 0.5);
  pen.lineTo(x + w, y + h - 0.5);
  pen.moveTo(x + 0.5, y);
  pen.lineTo(x + 0.5, y + h);
  pen.stroke();
  const wide = pen.measureText(text).width;
  if (wide + 8 < w) {
    pen.fillStyle = c.ink;
    pen.fillText(text, x + 5, y + h / 2 + 1);
  } else if (w > 14) {
    pen.fillStyle = c.soft;
    pen.fillText("…", x + 3, y + h / 2 + 1);
  }
}

/** Draws what lies between the borders; work grows with the pixels and the changes in sight only. */
export function draw(pen: CanvasRenderingContext2D, frame: Frame, c: Colours) {
  const { lanes, from, to, width } = frame;
  const height = frame.head + lanes.length * frame.lane;
  pen.clearRect(0, 0, width, height);
  const x = (time: number) => ((time - from) / Math.max(to - from, 1)) * width;
  pen.font = '12px "Atkinson Hyperlegible Mono Variable", monospace';
  pen.textBaseline = "middle";
  const step = tickStep(to - from, width / 110);
  for (let time = Math.ceil(from / step) * step; time <= to; time += step) {
    pen.fillStyle = c.rule;
    pen.fillRect(Math.round(x(time)), frame.head - 6, 1, height);
    pen.fillStyle = c.soft;
    pen.fillText(timeText(time), x(time) + 4, frame.head / 2 - 2);
  }
  lanes.forEach((lane, row) => {
    const y = frame.head + row * frame.lane + 5;
    const h = frame.lane - 10;
    let at = indexAt(lane, from);
    let drawn = -1;
    while (at < lane.times.length) {
      const start = Math.max(x(lane.times[at] ?? 0), 0);
      if (start > width) break;
      let next = at + 1;
      // Changes that share a pixel are drawn once.
      while (next < lane.times.length && x(lane.times[next] ?? 0) < start + 1) next++;
      const end = next < lane.times.length ? Math.min(x(lane.times[next] ?? 0), width) : width;
      const value = lane.values[next - 1] ?? "";
      const box: [number, number, number, number] = [start, y, Math.max(end - start, 1), h];
      if (lane.width === 1) {
        level(pen, value, box, c);
        if (drawn >= 0) {
          pen.fillStyle = c.ink;
          pen.fillRect(Math.round(start), y, 1, h);
        }
      } else {
        bus(pen, show(value, frame.radix(lane)), !/[^01LH]/.test(value), box, c);
      }
      drawn = end;
      at = next;
    }
  });
  pen.fillStyle = c.ink;
  pen.fillRect(Math.round(x(frame.cursor)), 0, 2, height);
}
