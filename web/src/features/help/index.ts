export { HelpSheet } from "./HelpSheet";
