export { CodeEditor, languageOf } from "./CodeEditor";
export type { EditorMark } from "./marks";
