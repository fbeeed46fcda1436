export { askWords } from "./AnswerFields";
export { HandInButton } from "./HandInButton";
export { HandInList } from "./HandInList";
