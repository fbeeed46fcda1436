import type { PartInfo } from "@/api/schema";
import type { PadText } from "./pad";

/** A wiring file as a table: the part, or else the pin, that each port bit ends at. */
export type Wires = Record<string, string>;

function cells(line: string, separator: string): string[] {
  return line.split(separator).map((cell) => cell.trim().replace(/^"(.*)"$/, "$1"));
}

/** The wires of a wiring file; null where it is written in a way that a table can't show. */
export function readWires(text: string, parts: PartInfo[]): Wires | null {
  const lines = text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .filter((line) => line.trim() !== "");
  const separator = lines[0]?.includes(";") ? ";" : ",";
  const head = cells(lines[0] ?? "", separator).map((name) => name.toLowerCase());
  const [port, part, pin, level] = ["port", "part", "pin", "io_level"].map((name) => head.indexOf(name));
  if (port === undefined || port < 0 || (part ?? -1) + (pin ?? -1) < -1) return null;
  const wires: Wires = {};
  for (const line of lines.slice(1)) {
    const row = cells(line, separator);
    const at = (column: number | undefined) =>
      column === undefined || column < 0 ? "" : (row[column] ?? "");
    const bit = at(port);
    // A level of its own, or a bit that is joined twice, is only said in the file.
    if (bit === "" || bit in wires || at(level) !== "" || row.some((cell) => cell.includes('"'))) return null;
    const label = at(part) !== "" ? at(part) : parts.find((p) => p.pin === at(pin))?.label;
    const both = at(part) !== "" && at(pin) !== "";
    if (label === undefined || (both && parts.find((p) => p.label === label)?.pin !== at(pin))) return null;
    wires[bit] = label;
  }
  return wires;
}

/** The wiring file that says these wires; null for none. */
export function writeWires(wires: Wires): PadText | null {
  const lines = Object.entries(wires).filter(([, part]) => part !== "");
  if (lines.length === 0) return null;
  return {
    name: "wiring.csv",
    text: `port,part\n${lines.map(([bit, part]) => `${bit},${part}\n`).join("")}`,
  };
}
