export { ShortcutSheet } from "./ShortcutSheet";
export { useShortcuts } from "./useShortcuts";
