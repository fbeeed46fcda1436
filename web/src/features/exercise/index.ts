export { ClockedRule } from "./ClockedRule";
export { DraftBar } from "./DraftBar";
export { ExerciseFileButton } from "./ExerciseFileButton";
export { ExerciseView } from "./ExerciseView";
export { NewExerciseButton } from "./NewExerciseButton";
export { Rules } from "./Rules";
export { Statement } from "./Statement";
export { StatementField } from "./StatementField";
export { type TableEdit, TruthTable } from "./TruthTable";
