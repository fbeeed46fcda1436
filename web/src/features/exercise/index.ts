export { ClockedRule } from "./ClockedRule";
export { ExerciseFileButton } from "./ExerciseFileButton";
export { ExerciseView } from "./ExerciseView";
export { NewExerciseButton } from "./NewExerciseButton";
export { Rules } from "./Rules";
export { type TableEdit, TruthTable } from "./TruthTable";
