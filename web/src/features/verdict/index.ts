export { CycleStrip } from "./CycleStrip";
export { DecisionNote, DecisionSheet } from "./Decision";
export { FindingList } from "./FindingList";
export { FixPreview } from "./FixPreview";
export { applyFix, markOf } from "./marks";
export { NearMisses } from "./NearMisses";
export { budgetWords, isLimited, proofWords } from "./proof";
export { StageStrip } from "./StageStrip";
export { VerdictView } from "./VerdictView";
