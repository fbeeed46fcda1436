export { BenchPanel } from "./BenchPanel";
export { RowsToTry, TicksToTry } from "./RowsToTry";
