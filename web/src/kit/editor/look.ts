import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { verilog } from "@codemirror/legacy-modes/mode/verilog";
import { vhdl } from "@codemirror/legacy-modes/mode/vhdl";
import type { Extension } from "@codemirror/state";
import { EditorView } from "@codemirror/view";
import { tags } from "@lezer/highlight";

/** Ink on paper: words of the language are bold, numbers amber, texts leaf, comments soft and slanted. */
const style = HighlightStyle.define([
  { tag: tags.keyword, fontWeight: "700" },
  { tag: [tags.typeName, tags.standard(tags.name)], color: "var(--violet)" },
  { tag: tags.comment, color: "var(--ink-soft)", fontStyle: "italic" },
  { tag: [tags.number, tags.literal], color: "var(--amber-ink)" },
  { tag: tags.string, color: "var(--leaf-ink)" },
]);

const theme = EditorView.theme({
  "&": {
    backgroundColor: "var(--sheet)",
    color: "var(--ink)",
    fontSize: "14px",
    border: "1px solid var(--rule)",
  },
  "&.cm-focused": { outline: "2.5px solid var(--focus)", outlineOffset: "1px" },
  ".cm-scroller": { fontFamily: "var(--font-mono)", lineHeight: "1.5", fontVariantLigatures: "none" },
  ".cm-content": { caretColor: "var(--ink)", padding: "6px 0" },
  ".cm-cursor": { borderLeftColor: "var(--ink)", borderLeftWidth: "2px" },
  ".cm-gutters": { backgroundColor: "var(--sheet)", color: "var(--ink-soft)", border: "none" },
  ".cm-activeLineGutter, .cm-activeLine": { backgroundColor: "transparent" },
  "&.cm-focused .cm-activeLine": { backgroundColor: "color-mix(in srgb, var(--tint) 55%, transparent)" },
  ".cm-selectionBackground, &.cm-focused .cm-selectionBackground": {
    backgroundColor: "var(--amber-wash) !important",
  },
  ".cm-matchingBracket": { backgroundColor: "transparent", outline: "1px solid var(--rule-strong)" },
  ".zg-signs": { width: "1.3em", textAlign: "center" },
  ".zg-sign-stop": { color: "var(--rust-ink)" },
  ".zg-sign-marks": { color: "var(--amber-ink)" },
  ".zg-sign-note": { color: "var(--ink-soft)" },
  ".zg-mark": { textDecoration: "underline 2px", textUnderlineOffset: "3px" },
  ".zg-mark-stop": { textDecorationColor: "var(--rust)" },
  ".zg-mark-marks": { textDecorationColor: "var(--amber)" },
  ".zg-mark-note": { textDecorationColor: "var(--rule-strong)" },
  ".zg-mark-active": { backgroundColor: "var(--amber-wash)" },
  ".zg-line-lit": { boxShadow: "inset 3px 0 0 var(--amber)" },
  ".zg-line-active": { backgroundColor: "var(--tint) !important" },
});

export type EditorLanguage = "verilog" | "vhdl" | "text";

export function look(language: EditorLanguage): Extension {
  const parts: Extension[] = [theme, syntaxHighlighting(style)];
  if (language === "verilog") parts.push(StreamLanguage.define(verilog));
  if (language === "vhdl") parts.push(StreamLanguage.define(vhdl));
  return parts;
}
