/** The geometry of Karnaugh maps: which row of the table stands in which cell, and where a group lies. */

/** One map of a stack: up to two inputs choose it, the next run down, the last across. */
export interface MapPlan {
  /** Positions of the inputs that choose a map, run down and run across. */
  pick: number[];
  down: number[];
  across: number[];
}

/** How a map of 1 to 6 inputs is laid out; null for more. */
export function mapPlan(inputs: number): MapPlan | null {
  if (inputs < 1 || inputs > 6) return null;
  const picks = Math.max(0, inputs - 4);
  const rest = inputs - picks;
  const down = Math.floor(rest / 2);
  const numbers = Array.from({ length: inputs }, (_, i) => i);
  return {
    pick: numbers.slice(0, picks),
    down: numbers.slice(picks, picks + down),
    across: numbers.slice(picks + down),
  };
}

/** The number that stands at a place of the reflected order 00 01 11 10. */
export function gray(place: number): number {
  return place ^ (place >> 1);
}

/** Bits of a number as text of fixed length; empty for none. */
export function bits(value: number, width: number): string {
  return width === 0 ? "" : value.toString(2).padStart(width, "0");
}

/** The row of the table in a cell. `map` counts in binary, `r` and `c` are places in reflected order. */
export function rowAt(plan: MapPlan, map: number, r: number, c: number): number {
  return (((map << plan.down.length) | gray(r)) << plan.across.length) | gray(c);
}

/** The cell of a row. */
export function cellOf(plan: MapPlan, row: number): { map: number; r: number; c: number } {
  const place = (value: number, width: number) => {
    for (let i = 0; i < 2 ** width; i++) if (gray(i) === value) return i;
    return 0;
  };
  const across = row & (2 ** plan.across.length - 1);
  const down = (row >> plan.across.length) & (2 ** plan.down.length - 1);
  return {
    map: row >> (plan.across.length + plan.down.length),
    r: place(down, plan.down.length),
    c: place(across, plan.across.length),
  };
}

/** Does a cube such as `01-1` cover a row? */
export function covers(cube: string, row: number): boolean {
  const text = bits(row, cube.length);
  return [...cube].every((c, i) => c === "-" || c === text[i]);
}

/** A run of places from `start`, open where it goes over the edge of the map to the other side. */
export interface Run {
  start: number;
  length: number;
  openBefore: boolean;
  openAfter: boolean;
}

/** The runs of places in reflected order that the literals of a cube on these inputs leave. */
export function runs(cube: string, inputs: number[]): Run[] {
  const size = 2 ** inputs.length;
  const fits = (place: number) => {
    const text = bits(gray(((place % size) + size) % size), inputs.length);
    return inputs.every((input, i) => cube[input] === "-" || cube[input] === text[i]);
  };
  const found: Run[] = [];
  for (let start = 0; start < size; start++) {
    if (!fits(start) || (start > 0 && fits(start - 1))) continue;
    let length = 1;
    while (start + length < size && fits(start + length)) length++;
    const all = length === size;
    found.push({
      start,
      length,
      openBefore: !all && start === 0 && fits(-1),
      openAfter: !all && start + length === size && fits(size),
    });
  }
  return found;
}

/** The maps of a stack that a cube reaches. */
export function mapsOf(plan: MapPlan, cube: string): number[] {
  const count = 2 ** plan.pick.length;
  return Array.from({ length: count }, (_, i) => i).filter((map) => {
    const text = bits(map, plan.pick.length);
    return plan.pick.every((input, i) => cube[input] === "-" || cube[input] === text[i]);
  });
}
