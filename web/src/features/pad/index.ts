export { attemptPad, padKey } from "./model/pad";
export { PadView } from "./PadView";
