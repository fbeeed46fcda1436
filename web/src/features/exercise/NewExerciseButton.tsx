import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { saveExercise } from "@/api/client";
import { Button } from "@/kit/Button";
import { ErrorNote } from "@/kit/notes";

/** A first draft to change: two inputs, an output that is their AND. */
const FIRST = `format = "zesty-gate/exercise/1"
title = "New exercise"

[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "f"
dir = "out"

[behaviour]
kind = "expressions"
[behaviour.outputs]
f = "a b"
`;

/** Makes a new exercise and goes to its workings. */
export function NewExerciseButton({ course }: { course: number }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: () => saveExercise(course, null, FIRST, null),
    onSuccess: async (saved) => {
      await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
      navigate(`/courses/${course}/exercises/${saved.id}/workings`);
    },
  });
  return (
    <>
      <Button strength="strong" disabled={make.isPending} onClick={() => make.mutate()}>
        New exercise
      </Button>
      {make.isError && <ErrorNote error={make.error} />}
    </>
  );
}
