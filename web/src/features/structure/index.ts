export { PrintedStructure } from "./PrintedStructure";
export { StructureSection } from "./StructureSection";
