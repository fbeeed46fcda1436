import { type KeyboardEvent, useRef, useState } from "react";
import type { DrawnBlock, Structure, StructureLevels } from "@/api/schema";
import { useCommands } from "@/kit/commands";
import { BUBBLE, backLine, bands, body, bubble, nameOf, neighbour, outline, stub } from "./shapes";

interface Props {
  drawing: Structure;
  levels: StructureLevels | null;
  chosen: number | null;
  onChoose: (block: number) => void;
}

/** How a wire looks by its level: high thick amber, low thin ink, unknown violet and broken. */
function look(level: string | undefined) {
  if (level === "1") return { stroke: "var(--amber)", strokeWidth: 3 };
  if (level === "X") return { stroke: "var(--violet)", strokeWidth: 2, strokeDasharray: "5 3" };
  return { stroke: "var(--ink)", strokeWidth: 1 };
}

const LEVEL: Record<string, string> = { "0": "low", "1": "high", X: "unknown" };

/** An input, an output or a stored level: its name and a sign that is filled while it is high. */
function Terminal({ block, level }: { block: DrawnBlock; level: string | undefined }) {
  const middle = block.y + block.height / 2;
  const fill = level === "1" ? "var(--amber)" : "var(--sheet)";
  const text = { fontSize: 13, fill: "var(--ink)", dominantBaseline: "central" as const };
  if (block.kind === "output") {
    return (
      <>
        <circle cx={block.x + 6} cy={middle} r={5.5} fill={fill} stroke="var(--ink)" strokeWidth={1.4} />
        <text x={block.x + 16} y={middle} className="mono" {...text}>
          {block.label}
        </text>
      </>
    );
  }
  const right = block.x + block.width;
  return (
    <>
      <text
        x={block.kind === "constant" ? right - 3 : right - 15}
        y={middle}
        textAnchor="end"
        className="mono"
        {...text}
      >
        {block.label}
      </text>
      {block.kind === "input" && (
        <rect
          x={right - 11}
          y={middle - 5.5}
          width={11}
          height={11}
          fill={fill}
          stroke="var(--ink)"
          strokeWidth={1.4}
        />
      )}
      {block.kind === "stored" && (
        <path
          d={`M${right - 11} ${middle - 6}L${right} ${middle}L${right - 11} ${middle + 6}Z`}
          fill={fill}
          stroke="var(--ink)"
          strokeWidth={1.4}
        />
      )}
    </>
  );
}

function Body({ block, levels }: { block: DrawnBlock; levels: StructureLevels | null }) {
  const [left, right] = body(block);
  const second = backLine(block);
  const isBox = ["function", "table", "flip_flop"].includes(block.kind);
  const small = { fontSize: 11, fill: "var(--ink-soft)", dominantBaseline: "central" as const };
  return (
    <>
      <path d={outline(block)} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.5} />
      {second !== null && <path d={second} fill="none" stroke="var(--ink)" strokeWidth={1.5} />}
      {isBox && (
        <text
          x={(left + right) / 2}
          y={block.y + 10}
          textAnchor="middle"
          className="mono"
          fontSize={12}
          fill="var(--ink)"
          dominantBaseline="central"
        >
          {block.label}
        </text>
      )}
      {block.pins.map((pin) => {
        const line = stub(block, pin);
        const [x, y] = bubble(pin);
        const isClock = block.kind === "flip_flop" && pin.name === "clk";
        return (
          <g key={`${pin.x} ${pin.y}`}>
            {line !== null && (
              <path
                d={`M${line[0]} ${pin.y}H${line[1]}`}
                {...(pin.inverted ? { stroke: "var(--ink)" } : look(levels?.levels[pin.wire]))}
              />
            )}
            {pin.inverted && (
              <circle cx={x} cy={y} r={BUBBLE} fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.4} />
            )}
            {isClock && (
              <path
                d={`M${left} ${pin.y - 5}L${left + 7} ${pin.y}L${left} ${pin.y + 5}`}
                fill="none"
                stroke="var(--ink)"
              />
            )}
            {pin.name !== "" && (
              <text x={left + (isClock ? 11 : 4)} y={pin.y} className="mono" {...small}>
                {pin.name}
              </text>
            )}
          </g>
        );
      })}
    </>
  );
}

const MOVES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The drawing: wires by their levels, symbols to choose by mouse or, with the arrow keys, by where they stand. */
export function StructureDrawing({ drawing, levels, chosen, onChoose }: Props) {
  const [stop, setStop] = useState(0);
  const svg = useRef<SVGSVGElement>(null);
  const band = levels === null ? [] : bands(drawing, levels);
  const at = Math.min(chosen ?? stop, drawing.blocks.length - 1);
  const levelOf = (block: DrawnBlock) => {
    const pin = block.pins.find((p) => !p.input) ?? block.pins[0];
    return pin === undefined ? undefined : levels?.levels[pin.wire];
  };
  const label = (block: DrawnBlock) => {
    const place = block.line === null ? "" : `, line ${block.line}`;
    const level = LEVEL[levelOf(block) ?? ""];
    return `${nameOf(block)}${place}${level === undefined ? "" : `, ${level}`}`;
  };
  useCommands([
    { title: "To the next symbol", group: "Drawing of the structure", keys: "Arrow keys" },
    { title: "Choose the symbol", group: "Drawing of the structure", keys: "Enter" },
  ]);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onChoose(at);
      return;
    }
    const move = MOVES[event.key];
    if (move === undefined || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const next = neighbour(drawing.blocks, at, move[0], move[1]);
    setStop(next);
    onChoose(next);
    svg.current?.querySelector<SVGGElement>(`[data-block="${next}"]`)?.focus();
  };
  // A wide drawing is shown at its size and scrolled, a small one somewhat larger.
  const scale = drawing.width < 600 && drawing.height < 350 ? 1.3 : 1;
  const width = drawing.width * scale;
  const style = width > 1500 ? { width } : { width, maxWidth: "100%" };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${drawing.width} ${drawing.height}`}
      style={style}
      role="group"
      aria-label="Drawing of the structure"
      onKeyDown={onKeyDown}
    >
      <path
        d={band.map((p) => `M${p[0]} ${p[1]}L${p[2]} ${p[3]}`).join("")}
        stroke="var(--rust)"
        strokeOpacity={0.28}
        strokeWidth={10}
        strokeLinecap="round"
      />
      {drawing.wires.map((wire, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a wire is its number
        <g key={k} fill="none" strokeLinecap="square" {...look(levels?.levels[k])}>
          <path d={wire.pieces.map((p) => `M${p[0]} ${p[1]}L${p[2]} ${p[3]}`).join("")} />
          {wire.joints.map(([x, y]) => (
            <circle
              key={`${x} ${y}`}
              cx={x}
              cy={y}
              r={3}
              fill={look(levels?.levels[k]).stroke}
              stroke="none"
            />
          ))}
        </g>
      ))}
      {drawing.blocks.map((block, k) => (
        <g
          // biome-ignore lint/suspicious/noArrayIndexKey: a symbol is its number
          key={k}
          data-block={k}
          role="button"
          aria-pressed={k === chosen}
          aria-label={label(block)}
          tabIndex={k === at ? 0 : -1}
          onClick={() => onChoose(k)}
          onFocus={() => setStop(k)}
          className="structure-block cursor-pointer outline-none"
        >
          <rect
            className="structure-ring"
            x={block.x - 4}
            y={block.y - 4}
            width={block.width + 8}
            height={block.height + 8}
            fill={k === chosen ? "var(--amber-wash)" : "transparent"}
            stroke={k === chosen ? "var(--ink)" : "none"}
            strokeDasharray="3 2"
          />
          {["input", "output", "constant", "stored"].includes(block.kind) ? (
            <Terminal block={block} level={levelOf(block)} />
          ) : (
            <Body block={block} levels={levels} />
          )}
        </g>
      ))}
    </svg>
  );
}
