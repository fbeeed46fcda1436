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

/** A time with a week, or so many days, added on the clock: `2027-03-12T17:00`. */
export function daysLater(time: string, days: number): string {
  const then = new Date(`${time}Z`);
  if (Number.isNaN(then.getTime())) return time;
  then.setUTCDate(then.getUTCDate() + days);
  return then.toISOString().slice(0, 16);
}

/** A time in the reader's zone, and beside it on the clock of the course where that shows another one. */
export function onBothClocks(seconds: number, there: string | null, zoneThere: string): string {
  const own = dateAndTime(seconds);
  if (there === null || there.slice(0, 16) === toField(seconds)) return own;
  return `${own} (${there.slice(0, 16).replace("T", " ")} in ${zoneThere.replaceAll("_", " ")})`;
}
