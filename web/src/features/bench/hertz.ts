/** `12 MHz`, with so many digits at most. */
export function hertz(rate: number, digits = 6): string {
  const units: [number, string][] = [
    [1e9, "GHz"],
    [1e6, "MHz"],
    [1e3, "kHz"],
  ];
  const [by, unit] = units.find(([by]) => rate >= by) ?? [1, "Hz"];
  return `${Number((rate / by).toPrecision(digits))}\u00a0${unit}`;
}
