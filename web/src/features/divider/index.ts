export { Divider } from "./Divider";
