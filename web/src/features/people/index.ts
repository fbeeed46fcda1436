export { PeopleView } from "./PeopleView";
