import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { bracketMatching, indentUnit } from "@codemirror/language";
import { highlightSelectionMatches, searchKeymap } from "@codemirror/search";
import { EditorState } from "@codemirror/state";
import { EditorView, highlightActiveLine, keymap, lineNumbers } from "@codemirror/view";
import { useEffect, useRef } from "react";
import type { CodeEditorProps } from "./CodeEditor";
import { look } from "./look";
import { marksExtension, offset, showMarks } from "./marks";

/** The editor itself; `CodeEditor` loads it when it is first needed. */
export function CodeEditorInner(props: CodeEditorProps) {
  const { text, language, label, marks, active, lit, shownLine, onChange, onStep, maxHeight } = props;
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const calls = useRef({ onChange, onStep });
  calls.current = { onChange, onStep };
  const editable = onChange !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text goes in by the effect below
  useEffect(() => {
    if (host.current === null) return;
    const step = (by: 1 | -1) => () => {
      calls.current.onStep?.(by);
      return true;
    };
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          marksExtension(),
          look(language),
          bracketMatching(),
          highlightActiveLine(),
          highlightSelectionMatches(),
          indentUnit.of("  "),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": label, spellcheck: "false" }),
          EditorState.readOnly.of(!editable),
          editable ? [history(), keymap.of([...historyKeymap, indentWithTab])] : [],
          keymap.of([
            { key: "Alt-n", run: step(1) },
            { key: "Alt-p", run: step(-1) },
            ...searchKeymap,
            ...defaultKeymap,
          ]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) calls.current.onChange?.(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, [language, label, editable]);
  useEffect(() => {
    const editor = view.current;
    if (editor === null || editor.state.doc.toString() === text) return;
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } });
  }, [text]);
  useEffect(() => {
    const editor = view.current;
    if (editor === null) return;
    editor.dispatch({ effects: showMarks.of({ marks, active, lit: lit ?? [] }) });
  }, [marks, active, lit]);
  const mark = active === null ? undefined : marks[active];
  const place = shownLine == null ? mark : { line: shownLine, column: 1 };
  const at = place === undefined ? null : `${place.line}:${place.column}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: scrolls when another place becomes the active one
  useEffect(() => {
    const editor = view.current;
    if (editor === null || place === undefined || editor.hasFocus) return;
    const position = offset(editor.state.doc, place.line, place.column);
    // Scrolls within the editor only: the page stays where its reader is.
    editor.requestMeasure({
      read: (measured) => {
        const line = measured.lineBlockAt(position);
        return line.top - (measured.scrollDOM.clientHeight - line.height) / 2;
      },
      write: (top, measured) => {
        measured.scrollDOM.scrollTop = top;
      },
    });
  }, [at]);
  return (
    <div
      ref={host}
      className={editable ? "code-editor code-editor-open" : "code-editor"}
      style={{ "--editor-height": maxHeight } as object}
    />
  );
}
