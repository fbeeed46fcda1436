import type { RefObject } from "react";
import type { Column, ExportText } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CopyButton } from "@/kit/CopyButton";
import { download } from "@/kit/download";
import { standalone, tableSvg } from "../model/svg";

interface Props {
  exports: ExportText[];
  columns: Column[];
  inputs: string[];
  map: RefObject<SVGSVGElement | null>;
  name: string;
}

const LABELS: Record<string, string> = {
  text: "Copy as text",
  latex: "Copy as LaTeX",
  verilog: "Copy as Verilog",
  vhdl: "Copy as VHDL",
};

/** The results for other programs: expressions as text, map and table as drawings. */
export function TakeAway({ exports, columns, inputs, map, name }: Props) {
  const drawMap = () => {
    if (map.current !== null) download(`map-${name}.svg`, "image/svg+xml", standalone(map.current));
  };
  return (
    <div className="flex flex-wrap gap-2 print:hidden">
      {exports.map((e) => (
        <CopyButton key={e.kind} label={LABELS[e.kind] ?? e.kind} text={e.text} />
      ))}
      {inputs.length <= 6 && <Button onClick={drawMap}>Map as SVG</Button>}
      {inputs.length <= 8 && (
        <Button onClick={() => download("table.svg", "image/svg+xml", tableSvg(inputs, columns))}>
          Table as SVG
        </Button>
      )}
    </div>
  );
}
