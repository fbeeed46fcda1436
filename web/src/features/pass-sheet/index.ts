export { PassSheetView } from "./PassSheetView";
