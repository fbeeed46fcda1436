import type { DrawnBlock, DrawnPin, Structure, StructureLevels } from "@/api/schema";

/** Radius of a bubble, and the room that it takes between a pin and the body. */
export const BUBBLE = 3.5;
const ROOM = 2 * BUBBLE;

/** Where the body of a symbol begins and ends, bubbles apart. */
export function body(block: DrawnBlock): [number, number] {
  const inside = block.pins.some((p) => p.input && p.inverted);
  const outside = block.pins.some((p) => !p.input && p.inverted);
  return [block.x + (inside ? ROOM : 0), block.x + block.width - (outside ? ROOM : 0)];
}

/** The centre of the bubble at a pin. */
export function bubble(pin: DrawnPin): [number, number] {
  return [pin.input ? pin.x + BUBBLE : pin.x - BUBBLE, pin.y];
}

/** How far the curved back of an OR reaches into its body at a height, 0 at its upper and lower end. */
function back(block: DrawnBlock, y: number): number {
  const part = (y - block.y) / block.height;
  return 4 * part * (1 - part) * 7;
}

/** The piece from a pin to the body, where the body doesn't begin at the pin. */
export function stub(block: DrawnBlock, pin: DrawnPin): [number, number] | null {
  const [left, right] = body(block);
  if (!pin.input) return pin.inverted || right === pin.x ? null : [right, pin.x];
  const start = pin.inverted ? pin.x + ROOM : pin.x;
  const shift = block.kind === "xor" ? 5 : 0;
  const end = block.kind === "or" || block.kind === "xor" ? left + shift + back(block, pin.y) : left;
  return end > start ? [start, end] : null;
}

/** The outline of a symbol: distinctive shapes for gates (IEEE 91), boxes for everything else. */
export function outline(block: DrawnBlock): string {
  const [left, right] = body(block);
  const { y, height } = block;
  const bottom = y + height;
  const middle = y + height / 2;
  const box = `M${left} ${y}H${right}V${bottom}H${left}Z`;
  switch (block.kind) {
    case "and": {
      const turn = Math.max(right - Math.min(height / 2, (right - left) * 0.6), left);
      return `M${left} ${y}H${turn}A${right - turn} ${height / 2} 0 0 1 ${turn} ${bottom}H${left}Z`;
    }
    case "or":
    case "xor": {
      const start = block.kind === "xor" ? left + 5 : left;
      const turn = start + (right - start) * 0.35;
      return (
        `M${start} ${y}H${turn}Q${right - 7} ${y} ${right} ${middle}Q${right - 7} ${bottom} ${turn} ${bottom}` +
        `H${start}Q${start + 14} ${middle} ${start} ${y}Z`
      );
    }
    case "not":
      return `M${left} ${y}L${right} ${middle}L${left} ${bottom}Z`;
    case "choice":
      return `M${left} ${y}L${right} ${y + height * 0.2}V${bottom - height * 0.2}L${left} ${bottom}Z`;
    default:
      return box;
  }
}

/** The second line at the back of an exclusive OR. */
export function backLine(block: DrawnBlock): string | null {
  if (block.kind !== "xor") return null;
  const [left] = body(block);
  return `M${left} ${block.y}Q${left + 14} ${block.y + block.height / 2} ${left} ${block.y + block.height}`;
}

const NAMES: Record<string, string> = {
  input: "input",
  output: "output",
  constant: "constant",
  and: "AND",
  or: "OR",
  xor: "XOR",
  not: "inverter",
  choice: "multiplexer",
  function: "function",
  table: "look-up table",
  stored: "level of flip-flop",
  flip_flop: "flip-flop",
};

/** What a symbol is, in words. */
export function nameOf(block: DrawnBlock): string {
  const inverted = block.pins.some((p) => !p.input && p.inverted);
  const gate = NAMES[block.kind] ?? block.kind;
  const inverse: Record<string, string> = { and: "NAND", or: "NOR", xor: "XNOR" };
  const kind = inverted ? (inverse[block.kind] ?? gate) : gate;
  return block.label === "" ? kind : `${kind} ${block.label}`;
}

/** The symbol next to one in a direction, by where they stand. */
export function neighbour(blocks: DrawnBlock[], from: number, dx: number, dy: number): number {
  const centre = (b: DrawnBlock) => [b.x + b.width / 2, b.y + b.height / 2] as const;
  const start = blocks[from];
  if (start === undefined) return 0;
  const [x, y] = centre(start);
  let best = from;
  let least = Number.POSITIVE_INFINITY;
  blocks.forEach((block, k) => {
    const [bx, by] = centre(block);
    const along = (bx - x) * dx + (by - y) * dy;
    const across = Math.abs((bx - x) * dy) + Math.abs((by - y) * dx);
    if (k === from || along <= 4) return;
    const far = along + 2 * across;
    if (far < least) {
      least = far;
      best = k;
    }
  });
  return best;
}

/** The rows of a symbol's table: its inputs' levels and what it gives. */
export function tableRows(table: string): { inputs: string; output: string }[] {
  const bits = Math.log2(table.length);
  return Array.from(table, (output, row) => ({
    inputs: bits === 0 ? "" : row.toString(2).padStart(bits, "0"),
    output,
  }));
}

/** The pieces of a wire that lead from one of these places to another: what ends blind is left out. */
export function between(pieces: number[][], places: Set<string>): number[][] {
  const end = (p: number[], last: boolean) => (last ? `${p[2]} ${p[3]}` : `${p[0]} ${p[1]}`);
  let left = pieces;
  for (;;) {
    const count = new Map<string, number>();
    for (const piece of left)
      for (const last of [false, true]) count.set(end(piece, last), (count.get(end(piece, last)) ?? 0) + 1);
    const blind = (key: string) => !places.has(key) && (count.get(key) ?? 0) < 2;
    const kept = left.filter((p) => !blind(end(p, false)) && !blind(end(p, true)));
    if (kept.length === left.length) return kept;
    left = kept;
  }
}

/** For each wire the pieces that lead to symbols which decide the outputs that are looked at. */
export function bands(drawing: Structure, levels: StructureLevels): number[][] {
  const deciding = new Set(levels.deciding);
  const places = new Map<number, Set<string>>();
  for (const block of drawing.blocks) {
    const own = block.pins.filter((p) => !p.input);
    const reads =
      block.kind === "output" ? levels.of.includes(block.label) : own.some((p) => deciding.has(p.wire));
    for (const pin of block.pins) {
      if (!deciding.has(pin.wire) || (pin.input && !reads)) continue;
      const known = places.get(pin.wire) ?? new Set<string>();
      places.set(pin.wire, known.add(`${pin.x} ${pin.y}`));
    }
  }
  return drawing.wires.flatMap((wire, k) => between(wire.pieces, places.get(k) ?? new Set()));
}
