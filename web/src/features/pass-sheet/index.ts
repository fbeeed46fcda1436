export { Counting } from "./Counting";
export { PassSheetView } from "./PassSheetView";
