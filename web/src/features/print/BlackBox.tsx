import type { PortInfo } from "@/api/schema";

/** The design as a box with its ports: inputs left, outputs right; a slash and a number mark a vector. */
export function BlackBox({ ports, title }: { ports: PortInfo[]; title: string }) {
  const inputs = ports.filter((p) => p.dir === "in");
  const outputs = ports.filter((p) => p.dir === "out");
  const most = Math.max(inputs.length, outputs.length, 1);
  const height = most * 30 + 16;
  const y = (list: PortInfo[], i: number) => 8 + (height - 16) * ((i + 0.5) / list.length);
  const wire = (port: PortInfo, at: number, left: boolean) => {
    const from = left ? 110 : 300;
    const to = left ? 160 : 350;
    const middle = (from + to) / 2;
    const label = `${port.name}${port.range}`;
    return (
      <g key={port.name}>
        <path d={`M${from} ${at}H${to}`} stroke="var(--ink)" strokeWidth={port.bits.length > 1 ? 3 : 1.5} />
        {port.bits.length > 1 && (
          <>
            <path d={`M${middle - 5} ${at + 7}L${middle + 5} ${at - 7}`} stroke="var(--ink)" />
            <text x={middle} y={at - 9} fontSize="11" textAnchor="middle" fill="var(--ink)">
              {port.bits.length}
            </text>
          </>
        )}
        <text
          x={left ? 102 : 358}
          y={at + 5}
          textAnchor={left ? "end" : "start"}
          fontSize="14"
          className="mono"
          fill="var(--ink)"
        >
          {label}
        </text>
      </g>
    );
  };
  return (
    <svg
      viewBox={`0 0 460 ${height}`}
      className="w-full max-w-xl"
      role="img"
      aria-label={`${title} as a box with its ports`}
    >
      <rect x="160" y="4" width="140" height={height - 8} fill="none" stroke="var(--ink)" strokeWidth="2" />
      {inputs.map((port, i) => wire(port, y(inputs, i), true))}
      {outputs.map((port, i) => wire(port, y(outputs, i), false))}
    </svg>
  );
}
