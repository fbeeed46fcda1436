export { BenchPanel } from "./BenchPanel";
