export { ClockedRule } from "./ClockedRule";
export { ExerciseFileButton } from "./ExerciseFileButton";
export { ExerciseView } from "./ExerciseView";
export { NewExerciseButton } from "./NewExerciseButton";
export { type TableEdit, TruthTable } from "./TruthTable";
