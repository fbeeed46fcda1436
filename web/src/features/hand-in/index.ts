export { AnswerFields, askWords } from "./AnswerFields";
export { AttemptsDiff } from "./AttemptsDiff";
export { BundleSheet } from "./BundleSheet";
export { HandInButton } from "./HandInButton";
export { HandInList } from "./HandInList";
