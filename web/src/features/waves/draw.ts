import { indexAt, type Radix, type Steps, segments, show, tickStep, timeText } from "./model";
import type { Drawn } from "./rows";

export interface Frame {
  rows: Drawn[];
  /** Marked times. */
  marks: (number | null)[];
  /** Times at the left and right border, in femtoseconds. */
  from: number;
  to: number;
  cursor: number;
  width: number;
  lane: number;
  head: number;
}

type Colours = Record<
  "ink" | "soft" | "rule" | "amber" | "wash" | "violet" | "grey" | "rust" | "tint" | "sheet" | "focus",
  string
>;

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
    rust: of("--rust"),
    tint: of("--tint"),
    sheet: of("--sheet"),
    focus: of("--focus"),
  };
}

function hatch(
  pen: CanvasRenderingContext2D,
  box: [number, number, number, number],
  colour: string,
  falling = false,
) {
  const [x, y, w, h] = box;
  pen.save();
  pen.beginPath();
  pen.rect(x, y, w, h);
  pen.clip();
  pen.strokeStyle = colour;
  pen.lineWidth = falling ? 1.6 : 1;
  pen.beginPath();
  for (let at = x - h; at < x + w; at += 5) {
    pen.moveTo(at, falling ? y : y + h);
    pen.lineTo(at + h, falling ? y + h : y);
  }
  pen.stroke();
  pen.lineWidth = 1;
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
  } else if (value === "Z" || value === "-") {
    pen.strokeStyle = c.grey;
    pen.setLineDash([2, 3]);
    pen.beginPath();
    pen.moveTo(x, y + h / 2);
    pen.lineTo(x + w, y + h / 2);
    pen.stroke();
    pen.setLineDash([]);
  } else {
    hatch(pen, [x, y + 2, w, h - 4], c.violet);
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
  if (!known) hatch(pen, [x, y + 1, w, h - 2], c.violet);
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
    pen.strokeStyle = c.sheet;
    pen.lineWidth = 3;
    pen.strokeText(text, x + 5, y + h / 2 + 1);
    pen.lineWidth = 1;
    pen.fillStyle = c.ink;
    pen.fillText(text, x + 5, y + h / 2 + 1);
  } else if (w > 14) {
    pen.fillStyle = c.soft;
    pen.fillText("…", x + 3, y + h / 2 + 1);
  }
}

/** A digit with its segments. */
function digit(pen: CanvasRenderingContext2D, lit: boolean[], x: number, y: number, h: number, c: Colours) {
  const w = h * 0.5;
  const m = y + h / 2;
  const bars: [number, number, number, number][] = [
    [x, y, x + w, y],
    [x + w, y, x + w, m],
    [x + w, m, x + w, y + h],
    [x, y + h, x + w, y + h],
    [x, m, x, y + h],
    [x, y, x, m],
    [x, m, x + w, m],
  ];
  bars.forEach(([x1, y1, x2, y2], k) => {
    pen.strokeStyle = lit[k] === true ? c.amber : c.rule;
    pen.lineWidth = lit[k] === true ? 3 : 1;
    pen.beginPath();
    pen.moveTo(x1, y1);
    pen.lineTo(x2, y2);
    pen.stroke();
  });
  pen.lineWidth = 1;
}

interface Lane {
  y: number;
  h: number;
  x: (time: number) => number;
  from: number;
  to: number;
  width: number;
}

function lane(pen: CanvasRenderingContext2D, steps: Steps, radix: Radix, at: Lane, c: Colours) {
  const { x, y, h, width } = at;
  const perPixel = (at.to - at.from) / Math.max(width, 1);
  let index = indexAt(steps, at.from);
  let drawn = -1;
  while (index < steps.times.length) {
    const time = steps.times[index] ?? 0;
    const start = Math.max(x(time), 0);
    if (start > width) break;
    // Changes that share a pixel are drawn once; the next pixel is found by halving.
    let next = index + 1;
    if ((steps.times[next] ?? Number.POSITIVE_INFINITY) < Math.max(time, at.from) + perPixel) {
      next = indexAt(steps, Math.max(time, at.from) + perPixel) + 1;
    }
    const end = next < steps.times.length ? Math.min(x(steps.times[next] ?? 0), width) : width;
    const value = steps.values[next - 1] ?? "";
    const box: [number, number, number, number] = [start, y, Math.max(end - start, 1), h];
    if (steps.width === 1 && steps.literals.length === 0) {
      level(pen, value, box, c);
      if (drawn >= 0) {
        pen.fillStyle = c.ink;
        pen.fillRect(Math.round(start), y, 1, h);
      }
    } else {
      const lit = radix.startsWith("digit") ? segments(value, radix) : null;
      const free = /^-+$/.test(value);
      const text = lit === null ? show(value, radix, steps.literals) : "";
      bus(pen, text, free || !/[^01LH]/.test(value), box, c);
      if (lit !== null && box[2] > h) digit(pen, lit, start + 5, y + 4, h - 8, c);
    }
    drawn = end;
    index = next;
  }
}

/** Draws what lies between the borders; work grows with the pixels only. */
export function draw(pen: CanvasRenderingContext2D, frame: Frame, c: Colours) {
  const { rows, from, to, width } = frame;
  const height = frame.head + rows.length * frame.lane;
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
  rows.forEach((row, k) => {
    const top = frame.head + k * frame.lane;
    if (row.steps === null) {
      pen.fillStyle = c.tint;
      pen.fillRect(0, top, width, frame.lane);
      return;
    }
    const { steps, radix } = row;
    const at = { x, y: top + 5, h: frame.lane - 10, from, to, width };
    const wrong = () => {
      pen.globalAlpha = 0.6;
      for (const { from: start, to: end } of steps.differs) {
        const [left, right] = [Math.max(x(start), -1), Math.min(x(end), width + 1)];
        if (right <= 0 || left >= width) continue;
        hatch(pen, [left, at.y, Math.max(right - left, 2), at.h], c.rust, true);
      }
      pen.globalAlpha = 1;
    };
    // Words stay readable over the hatching, levels lie under it.
    if (steps.width > 1) wrong();
    lane(pen, steps, radix, at, c);
    if (steps.width === 1) wrong();
  });
  frame.marks.forEach((mark, k) => {
    if (mark === null) return;
    const at = Math.round(x(mark));
    pen.fillStyle = c.focus;
    for (let y = frame.head - 8; y < height; y += 7) pen.fillRect(at, y, 1.5, 4);
    pen.fillText(String(k + 1), at + 4, frame.head - 6);
  });
  pen.fillStyle = c.ink;
  pen.fillRect(Math.round(x(frame.cursor)), 0, 2, height);
}
