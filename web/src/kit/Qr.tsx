import { encode } from "uqr";

/** An address as a QR code (ISO/IEC 18004), for a projector or a phone. */
export function Qr({ text, size = 180 }: { text: string; size?: number }) {
  const code = encode(text, { ecc: "M", border: 2 });
  const path = code.data
    .flatMap((row, y) => row.map((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : "")))
    .join("");
  return (
    <svg
      viewBox={`0 0 ${code.size} ${code.size}`}
      width={size}
      height={size}
      role="img"
      aria-label={`QR code of ${text}`}
      shapeRendering="crispEdges"
    >
      <rect width={code.size} height={code.size} fill="#fff" />
      <path d={path} fill="#000" />
    </svg>
  );
}
