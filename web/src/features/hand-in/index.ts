export { AnswerFields, askWords } from "./AnswerFields";
export { BundleSheet } from "./BundleSheet";
export { HandInButton } from "./HandInButton";
export { HandInList } from "./HandInList";
