export { BlackBox } from "./BlackBox";
export { Blank } from "./Blank";
export { PaperFrame } from "./PaperFrame";
export { PaperTable } from "./PaperTable";
