/** `12 MHz` */
export function hertz(rate: number): string {
  const units: [number, string][] = [
    [1e9, "GHz"],
    [1e6, "MHz"],
    [1e3, "kHz"],
  ];
  const [by, unit] = units.find(([by]) => rate >= by) ?? [1, "Hz"];
  return `${Number((rate / by).toPrecision(6))}\u00a0${unit}`;
}
