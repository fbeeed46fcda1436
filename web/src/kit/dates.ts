/** A time of the server (seconds since 1970) in the reader's zone and language. */
export function dateAndTime(seconds: number): string {
  return new Date(seconds * 1000).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
}

export function dateOnly(seconds: number): string {
  return new Date(seconds * 1000).toLocaleDateString(undefined, { dateStyle: "medium" });
}

/** A day without its year, where that is this one. */
export function shortDate(seconds: number): string {
  const date = new Date(seconds * 1000);
  const year = date.getFullYear() === new Date().getFullYear() ? undefined : "numeric";
  return date.toLocaleDateString(undefined, { day: "numeric", month: "short", year });
}

/** The reader's zone, as it is named beside times. */
export function zone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone;
}

/** How a field for date and time holds a time; empty for none. */
export function toField(seconds: number | null): string {
  if (seconds === null) return "";
  const date = new Date(seconds * 1000);
  const two = (n: number) => String(n).padStart(2, "0");
  const day = `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
  return `${day}T${two(date.getHours())}:${two(date.getMinutes())}`;
}

/** The time in such a field; null when it holds none. */
export function fromField(text: string): number | null {
  const time = Date.parse(text);
  return Number.isNaN(time) ? null : Math.floor(time / 1000);
}
