export { HandInButton } from "./HandInButton";
export { HandInList } from "./HandInList";
