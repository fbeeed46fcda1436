import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, get, saveWorkings, workOut } from "@/api/client";
import type { DraftEdit, ExerciseDraft, WorkingsView } from "@/api/types";

/** How saving stands. */
export type Saving =
  | { state: "saved" | "waiting" | "saving" | "faulty" }
  | { state: "failed"; error: unknown };

export interface Workings {
  draft: ExerciseDraft;
  view: WorkingsView;
  saving: Saving;
  /** The last request to work the draft out failed. */
  error: unknown;
  change: (draft: ExerciseDraft) => void;
  edit: (edit: DraftEdit) => void;
}

const PAUSE = 20;
const SAVE_AFTER = 1200;

interface Options {
  course: number;
  exercise: number | null;
  notation: string;
  shared: boolean;
  readOnly: boolean;
}

/** The saved workings; a new exercise starts from an empty draft. */
export function useSavedWorkings(course: number, exercise: number | null) {
  return useQuery({
    queryKey: ["workings", course, exercise],
    queryFn: () => get<WorkingsView>(`/api/courses/${course}/exercises/${exercise}/workings`),
    enabled: exercise !== null,
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
}

/** Live workings: what is typed is worked out after a short pause and saved after a longer one. */
export function useWorkings(start: WorkingsView, options: Options): Workings {
  const { course, exercise, notation, shared, readOnly } = options;
  const [draft, setDraft] = useState(start.draft);
  const [view, setView] = useState(start);
  const [error, setError] = useState<unknown>(null);
  const [saving, setSaving] = useState<Saving>({ state: "saved" });
  const revision = useRef(start.revision);
  const newest = useRef(0);
  const typed = useRef(false);
  const queries = useQueryClient();

  const ask = useCallback(
    async (wanted: ExerciseDraft, edit: DraftEdit | null) => {
      newest.current += 1;
      const mine = newest.current;
      try {
        const found = await workOut(course, { exercise, draft: wanted, edit, notation, shared });
        // Only the answer to the newest question counts.
        if (mine !== newest.current) return;
        setError(null);
        setView(found);
        if (edit !== null) setDraft(found.draft);
      } catch (failure) {
        if (mine === newest.current) setError(failure);
      }
    },
    [course, exercise, notation, shared],
  );

  const latest = useRef({ draft, ask });
  latest.current = { draft, ask };

  // A typed change waits for a pause; another notation is asked for at once.
  useEffect(() => {
    const timer = setTimeout(() => latest.current.ask(draft, null), typed.current ? PAUSE : 0);
    return () => clearTimeout(timer);
  }, [draft]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the question itself depends on these
  useEffect(() => {
    latest.current.ask(latest.current.draft, null);
  }, [notation, shared]);

  useEffect(() => {
    if (!typed.current || readOnly || exercise === null) return;
    if (view.problem !== null) {
      setSaving({ state: "faulty" });
      return;
    }
    setSaving({ state: "waiting" });
    const timer = setTimeout(async () => {
      setSaving({ state: "saving" });
      try {
        const kept = await saveWorkings(course, exercise, { revision: revision.current, draft: view.draft });
        revision.current = kept.revision;
        setSaving({ state: "saved" });
        await queries.invalidateQueries({ queryKey: ["exercise", course, exercise] });
        await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
      } catch (failure) {
        setSaving({ state: "failed", error: failure });
      }
    }, SAVE_AFTER);
    return () => clearTimeout(timer);
  }, [view, readOnly, course, exercise, queries]);

  const change = useCallback((next: ExerciseDraft) => {
    typed.current = true;
    setDraft(next);
  }, []);
  const edit = useCallback((wanted: DraftEdit) => {
    typed.current = true;
    latest.current.ask(latest.current.draft, wanted);
  }, []);
  return { draft, view, saving, error, change, edit };
}

/** A failure of saving in a few words. */
export function savingWords(saving: Saving, revision: string): string {
  switch (saving.state) {
    case "saved":
      return revision;
    case "waiting":
    case "saving":
      return "Saving…";
    case "faulty":
      return "Not saved until the fault is corrected";
    case "failed":
      return saving.error instanceof ApiError ? saving.error.title : "Could not be saved";
  }
}
