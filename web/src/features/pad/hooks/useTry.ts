import { useEffect, useState } from "react";
import { tryOut } from "@/api/client";
import type { TryView } from "@/api/schema";
import { answersFile } from "../model/answers";
import type { Pad } from "../model/pad";

/** The pause in typing after which the text is checked, in milliseconds. */
const PAUSE = 110;

export interface Tried {
  view: TryView | null;
  /** The pad that the view is about. */
  of: Pad | null;
  error: unknown;
}

/** Checks the texts whenever typing pauses; an answer that a later text has overtaken is dropped. */
export function useTry(course: number, exercise: number, pad: Pad): Tried {
  const [tried, setTried] = useState<Tried>({ view: null, of: null, error: null });
  useEffect(() => {
    const abort = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const { files, wiring } = pad;
        const request = { files, top: null, wiring, answers: answersFile(pad.answers) };
        const view = await tryOut(course, exercise, request, abort.signal);
        if (!abort.signal.aborted) setTried({ view, of: pad, error: null });
      } catch (error) {
        if (!abort.signal.aborted) setTried((before) => ({ ...before, error }));
      }
    }, PAUSE);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [course, exercise, pad]);
  return tried;
}
