export { VerdictView } from "./VerdictView";
