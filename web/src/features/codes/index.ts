export { CodesView } from "./CodesView";
