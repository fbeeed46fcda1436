export { Counting } from "./Counting";
export { OwnList } from "./OwnList";
export { PassSheetView } from "./PassSheetView";
