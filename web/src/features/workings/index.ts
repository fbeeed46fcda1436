export { Digit } from "./components/Digit";
export { Expression } from "./components/Expression";
export { smallness } from "./components/Forms";
export { KarnaughMap } from "./components/KarnaughMap";
export { WorkingsView } from "./components/WorkingsView";
export { savingWords, useSavedWorkings, useWorkings } from "./hooks/useWorkings";
export { mapPlan } from "./model/map";
