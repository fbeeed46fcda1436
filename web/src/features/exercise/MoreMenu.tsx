import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { archiveExercise, copyExercise, moveExercise } from "@/api/client";
import type { ExercisePage } from "@/api/schema";
import { Menu, MenuDownload, MenuItem } from "@/kit/Menu";
import { ErrorNote } from "@/kit/notes";
import { say } from "@/kit/toast";

/** What is done with an exercise as a whole, seldom: its place in the course, copies, files, putting it aside. */
export function MoreMenu({ course, page }: { course: number; page: ExercisePage }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const isAside = page.standing?.archived === true;
  const again = () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "start" });
  const change = useMutation({ mutationFn: (what: () => Promise<unknown>) => what(), onSuccess: again });
  /** Does something that can be taken back. */
  const does = (words: string, work: () => Promise<unknown>, back: () => Promise<unknown>) =>
    change.mutate(work, { onSuccess: () => say(words, () => change.mutate(back)) });
  const move = (earlier: boolean) =>
    does(
      `${page.title} stands one place ${earlier ? "earlier" : "later"}.`,
      () => moveExercise(course, page.id, earlier),
      () => moveExercise(course, page.id, !earlier),
    );
  const putAside = () =>
    does(
      isAside ? `${page.title} is taken up again.` : `${page.title} is archived; students don't see it.`,
      () => archiveExercise(course, page.id, !isAside),
      () => archiveExercise(course, page.id, isAside),
    );
  const copy = useMutation({
    mutationFn: () => copyExercise(course, page.id),
    onSuccess: async (made) => {
      say("A copy is made, not published yet.");
      await again();
      navigate(`/courses/${course}/exercises/${made.id}/workings`);
    },
  });
  const error = change.error ?? copy.error;
  return (
    <>
      <Menu label="More">
        <MenuItem onSelect={() => copy.mutate()}>Make a copy</MenuItem>
        <MenuDownload href={`/api/courses/${course}/exercises/${page.id}/export`}>
          Save with its files (zip)
        </MenuDownload>
        <MenuItem onSelect={() => move(true)}>One place earlier in the course</MenuItem>
        <MenuItem onSelect={() => move(false)}>One place later in the course</MenuItem>
        {page.revision > 0 && (
          <MenuItem onSelect={putAside}>{isAside ? "Take it up again" : "Archive it"}</MenuItem>
        )}
      </Menu>
      {error !== null && <ErrorNote error={error} />}
    </>
  );
}
