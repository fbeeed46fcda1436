import { type Extension, RangeSetBuilder, StateEffect, StateField, type Text } from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView, GutterMarker, gutter } from "@codemirror/view";

/** A place in the text with what is said about it; lines and columns count from 1, columns in characters. */
export interface EditorMark {
  line: number;
  column: number;
  endLine: number;
  endColumn: number;
  tone: "stop" | "marks" | "note";
  message: string;
}

interface Shown {
  marks: EditorMark[];
  active: number | null;
  lit: number[];
}

export const showMarks = StateEffect.define<Shown>();

/** The offset of a line and column; places behind the end of a line lie at its end. */
export function offset(doc: Text, line: number, column: number): number {
  const at = doc.line(Math.min(Math.max(line, 1), doc.lines));
  const before = [...at.text].slice(0, Math.max(column - 1, 0)).join("");
  return at.from + Math.min(before.length, at.length);
}

const SIGNS = { stop: "■", marks: "▲", note: "•" } as const;
const ORDER = { stop: 0, marks: 1, note: 2 } as const;

class Sign extends GutterMarker {
  readonly tone: EditorMark["tone"];
  readonly title: string;
  constructor(tone: EditorMark["tone"], title: string) {
    super();
    this.tone = tone;
    this.title = title;
  }
  override eq(other: Sign) {
    return this.tone === other.tone && this.title === other.title;
  }
  override toDOM() {
    const sign = document.createElement("span");
    sign.className = `zg-sign zg-sign-${this.tone}`;
    sign.textContent = SIGNS[this.tone];
    sign.title = this.title;
    return sign;
  }
}

function decorate(doc: Text, { marks, active, lit }: Shown): DecorationSet {
  const ranges = marks.map((mark, i) => {
    const from = offset(doc, mark.line, mark.column);
    const to = Math.max(offset(doc, mark.endLine, mark.endColumn), from);
    return { from, to, tone: mark.tone, active: i === active };
  });
  ranges.sort((a, b) => a.from - b.from || a.to - b.to);
  const out = [];
  for (const { from, to, tone, active: now } of ranges) {
    const kind = `zg-mark zg-mark-${tone}${now ? " zg-mark-active" : ""}`;
    if (to > from) out.push(Decoration.mark({ class: kind }).range(from, to));
    if (now) out.push(Decoration.line({ class: "zg-line-active" }).range(doc.lineAt(from).from));
  }
  for (const line of lit) {
    if (line >= 1 && line <= doc.lines) {
      out.push(Decoration.line({ class: "zg-line-lit" }).range(doc.line(line).from));
    }
  }
  return Decoration.set(out, true);
}

interface Kept extends Shown {
  decorations: DecorationSet;
}

const field = StateField.define<Kept>({
  create: () => ({ marks: [], active: null, lit: [], decorations: Decoration.none }),
  update(kept, transaction) {
    for (const effect of transaction.effects) {
      if (effect.is(showMarks))
        return { ...effect.value, decorations: decorate(transaction.newDoc, effect.value) };
    }
    // Between two checks the places move along with the text.
    return transaction.docChanged
      ? { ...kept, decorations: kept.decorations.map(transaction.changes) }
      : kept;
  },
  provide: (f) => EditorView.decorations.from(f, (kept) => kept.decorations),
});

const signs = gutter({
  class: "zg-signs",
  markers: (view) => {
    const { marks } = view.state.field(field);
    const worst = new Map<number, EditorMark[]>();
    for (const mark of marks) {
      if (mark.line <= view.state.doc.lines) worst.set(mark.line, [...(worst.get(mark.line) ?? []), mark]);
    }
    const builder = new RangeSetBuilder<GutterMarker>();
    for (const line of [...worst.keys()].sort((a, b) => a - b)) {
      const here = (worst.get(line) ?? []).sort((a, b) => ORDER[a.tone] - ORDER[b.tone]);
      const at = view.state.doc.line(line).from;
      builder.add(at, at, new Sign(here[0]?.tone ?? "note", here.map((m) => m.message).join("\n")));
    }
    return builder.finish();
  },
  initialSpacer: () => new Sign("note", ""),
});

export function marksExtension(): Extension {
  return [field, signs];
}
