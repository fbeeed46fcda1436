/** Keys as they are printed and as the browser tells them. */

interface Pressed {
  key: string;
  ctrlKey: boolean;
  altKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
}

/** Does a key event fit keys as they are printed? The command key of a Mac counts as Ctrl. */
export function fits(keys: string, event: Pressed): boolean {
  const parts = keys === "+" ? ["+"] : keys.split("+");
  const last = parts.at(-1) ?? "";
  const has = (name: string) => parts.slice(0, -1).includes(name);
  // Of a character such as `?` it depends on the keyboard whether shift is held.
  const isLetter = /^[a-z]$/i.test(last);
  return (
    (!isLetter || parts.length === 1 || event.shiftKey === has("Shift")) &&
    event.key.toLowerCase() === last.toLowerCase() &&
    (event.ctrlKey || event.metaKey) === has("Ctrl") &&
    event.altKey === has("Alt")
  );
}

/** Is somebody typing there? Then plain keys are text. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || ["INPUT", "SELECT", "TEXTAREA"].includes(target.tagName);
}

/** Would these keys write a letter into a field? */
export function isPlain(keys: string): boolean {
  return !keys.includes("+") || keys === "+";
}
