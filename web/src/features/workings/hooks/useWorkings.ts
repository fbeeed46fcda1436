import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, answered, api, saveWorkings, workOut } from "@/api/client";
import type { ExerciseForm, FormEdit, WorkingsView } from "@/api/schema";
import { say } from "@/kit/toast";
import { begun, recorded, redone, undone } from "../model/history";
import { saveInTurn, savesEnded } from "../model/saves";

/** How saving stands. */
export type Saving =
  | { state: "saved" | "waiting" | "saving" | "faulty" }
  | { state: "failed"; error: unknown };

export interface Workings {
  draft: ExerciseForm;
  view: WorkingsView;
  saving: Saving;
  /** The last request to work the draft out failed. */
  error: unknown;
  change: (draft: ExerciseForm) => void;
  edit: (edit: FormEdit) => void;
  /** One step back, and forth again; null where there is none. */
  undo: (() => void) | null;
  redo: (() => void) | null;
  /** The exercise was published meanwhile: what the next save has to say. */
  adopt: (version: number) => void;
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
    queryFn: async () => {
      await savesEnded(`${course}/${exercise}`);
      return answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/workings", {
          params: { path: { course, exercise: exercise ?? 0 } },
        }),
      );
    },
    enabled: exercise !== null,
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
}

/**
 * Live workings: what is typed is worked out after a short pause and saved after a longer one. Saves run one after
 * another, and leaving the page saves at once what still waits.
 */
export function useWorkings(start: WorkingsView, options: Options): Workings {
  const { course, exercise, notation, shared, readOnly } = options;
  const [draft, setDraft] = useState(start.draft);
  const [view, setView] = useState(start);
  const [error, setError] = useState<unknown>(null);
  const [saving, setSaving] = useState<Saving>({ state: "saved" });
  const queries = useQueryClient();
  // What stands now, also between two drawings of the page.
  const now = useRef(start.draft);
  const history = useRef(begun(start.draft));
  const newest = useRef(0);
  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const edits = useRef<Promise<void>>(Promise.resolve());
  const version = useRef(start.version);
  // Something was changed that no save has taken yet.
  const pending = useRef(false);
  const saveTimer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const busy = useRef(false);

  const save = useCallback(() => {
    clearTimeout(saveTimer.current);
    if (exercise === null) return;
    const attempt = async () => {
      // An earlier save may have taken it along.
      if (!pending.current) return;
      busy.current = true;
      pending.current = false;
      setSaving({ state: "saving" });
      try {
        const kept = await saveWorkings(course, exercise, { version: version.current, draft: now.current });
        version.current = kept.version;
        // What was typed meanwhile has its own turn.
        if (!pending.current) setSaving({ state: "saved" });
      } catch (failure) {
        pending.current = true;
        setSaving({ state: "failed", error: failure });
      } finally {
        busy.current = false;
      }
    };
    void saveInTurn(`${course}/${exercise}`, attempt).then(async () => {
      await queries.invalidateQueries({ queryKey: ["exercise", course, exercise] });
      await queries.invalidateQueries({ queryKey: ["publish", course, exercise] });
      await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
    });
  }, [course, exercise, queries]);

  /** Something was changed: it waits to be saved. */
  const touch = useCallback(() => {
    clearTimeout(saveTimer.current);
    if (readOnly || exercise === null) return;
    pending.current = true;
    setSaving({ state: "waiting" });
  }, [readOnly, exercise]);

  const show = useCallback(
    (found: WorkingsView) => {
      setError(null);
      setView(found);
      clearTimeout(saveTimer.current);
      if (!pending.current) return;
      // What was pasted in vain is no fault of the draft.
      if (found.problem === null || found.problem.field === "paste")
        saveTimer.current = setTimeout(save, SAVE_AFTER);
      else setSaving({ state: "faulty" });
    },
    [save],
  );

  const ask = useCallback(async () => {
    newest.current += 1;
    const mine = newest.current;
    try {
      const found = await workOut(course, { exercise, draft: now.current, edit: null, notation, shared });
      // Only the answer to the newest question counts.
      if (mine === newest.current) show(found);
    } catch (failure) {
      if (mine === newest.current) setError(failure);
    }
  }, [course, exercise, notation, shared, show]);

  // At first, and again in another notation.
  useEffect(() => {
    void ask();
  }, [ask]);

  const latest = useRef({ ask, notation, shared, undo: () => {} });
  latest.current = { ...latest.current, ask, notation, shared };

  /** What stands now and is asked about soon. */
  const take = useCallback(
    (next: ExerciseForm) => {
      now.current = next;
      setDraft(next);
      touch();
      clearTimeout(pause.current);
      pause.current = setTimeout(() => latest.current.ask(), PAUSE);
    },
    [touch],
  );
  const change = useCallback(
    (next: ExerciseForm) => {
      history.current = recorded(history.current, next, performance.now());
      take(next);
    },
    [take],
  );
  const undo = useCallback(() => {
    history.current = undone(history.current);
    take(history.current.now);
  }, [take]);
  latest.current.undo = undo;
  const redo = useCallback(() => {
    history.current = redone(history.current);
    take(history.current.now);
  }, [take]);

  const applyEdit = useCallback(
    async (wanted: FormEdit) => {
      try {
        for (;;) {
          const { notation, shared } = latest.current;
          clearTimeout(pause.current);
          newest.current += 1;
          const mine = newest.current;
          const base = now.current;
          const found = await workOut(course, { exercise, draft: base, edit: wanted, notation, shared });
          // Typed meanwhile: the edit goes onto what stands there now.
          if (now.current !== base) continue;
          if (JSON.stringify(found.draft) !== JSON.stringify(base)) {
            history.current = recorded(history.current, found.draft, performance.now());
            if (wanted.kind === "cell" && found.draft.behaviour.kind !== base.behaviour.kind)
              say("The behaviour is written as minterms now.", () => latest.current.undo());
            now.current = found.draft;
            setDraft(found.draft);
            touch();
          }
          show(found);
          // A question asked meanwhile knew nothing of the edit.
          if (mine !== newest.current) void latest.current.ask();
          return;
        }
      } catch (failure) {
        setError(failure);
      }
    },
    [course, exercise, show, touch],
  );
  // One edit after the other, so that none is lost when the keys are faster than the answers.
  const edit = useCallback(
    (wanted: FormEdit) => {
      edits.current = edits.current.then(() => applyEdit(wanted));
    },
    [applyEdit],
  );

  // Leaving: within the application what waits is saved, and closing the page is asked about.
  useEffect(() => {
    const hide = () => {
      if (document.visibilityState === "hidden" && pending.current) save();
    };
    const leave = (event: BeforeUnloadEvent) => {
      if (pending.current || busy.current) event.preventDefault();
    };
    document.addEventListener("visibilitychange", hide);
    window.addEventListener("beforeunload", leave);
    return () => {
      document.removeEventListener("visibilitychange", hide);
      window.removeEventListener("beforeunload", leave);
      clearTimeout(pause.current);
      if (pending.current) save();
    };
  }, [save]);

  const adopt = useCallback((published: number) => {
    version.current = published;
  }, []);

  const { past, future } = history.current;
  return {
    draft,
    view,
    saving,
    error,
    change,
    edit,
    undo: past.length > 0 ? undo : null,
    redo: future.length > 0 ? redo : null,
    adopt,
  };
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
