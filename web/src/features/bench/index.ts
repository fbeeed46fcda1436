export { BenchPanel } from "./BenchPanel";
export { RowsToTry } from "./RowsToTry";
