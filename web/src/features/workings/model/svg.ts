/** Drawings to take elsewhere: the picture on the page with its colours written out. */

const VARIABLES = [
  "--ink",
  "--ink-soft",
  "--rule",
  "--rule-strong",
  "--sheet",
  "--tint",
  "--amber-wash",
  "--amber-ink",
];
const GROUPS = ["--rust", "--focus", "--leaf", "--violet", "--magenta"];

/** The source of an SVG element that stands alone, without the page's variables. */
export function standalone(svg: SVGSVGElement): string {
  const style = getComputedStyle(document.documentElement);
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  let text = new XMLSerializer().serializeToString(copy);
  for (const name of [...VARIABLES, ...GROUPS]) {
    text = text.replaceAll(`var(${name})`, style.getPropertyValue(name).trim());
  }
  return text.replaceAll("currentColor", style.getPropertyValue("--ink").trim());
}

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");
}

/** A truth table as a drawing. */
export function tableSvg(inputs: string[], outputs: { name: string; values: string }[]): string {
  const names = [...inputs, ...outputs.map((o) => o.name)];
  const widths = names.map((n) => Math.max(26, n.length * 8 + 12));
  const left = widths.map((_, i) => 46 + widths.slice(0, i).reduce((a, b) => a + b, 0));
  const width = 46 + widths.reduce((a, b) => a + b, 0);
  const count = 2 ** inputs.length;
  const middle = (i: number) => (left[i] ?? 0) + (widths[i] ?? 0) / 2;
  const divider = left[inputs.length] ?? width;
  const lines = [`<text x="34" y="18" class="n">row</text>`];
  names.forEach((name, i) => {
    lines.push(`<text x="${middle(i)}" y="18" class="h">${escaped(name)}</text>`);
  });
  for (let row = 0; row < count; row++) {
    const y = 42 + row * 20;
    lines.push(`<text x="34" y="${y}" class="n">${row}</text>`);
    const bits = row.toString(2).padStart(inputs.length, "0");
    inputs.forEach((_, i) => {
      lines.push(`<text x="${middle(i)}" y="${y}">${bits[i]}</text>`);
    });
    outputs.forEach((o, k) => {
      const value = o.values[row] === "-" ? "–" : o.values[row];
      lines.push(`<text x="${middle(inputs.length + k)}" y="${y}">${value}</text>`);
    });
  }
  const height = 42 + count * 20;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="monospace" font-size="13" text-anchor="middle"><style>.h{font-weight:bold}.n{text-anchor:end;fill:#777}</style><path d="M0 26H${width}M${divider} 0V${height}" stroke="#333" fill="none"/>${lines.join("")}</svg>`;
}
