export { ExerciseFileButton } from "./ExerciseFileButton";
export { ExerciseView } from "./ExerciseView";
export { TruthTable } from "./TruthTable";
