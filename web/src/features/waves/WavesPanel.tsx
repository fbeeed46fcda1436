import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { keepWaves, runWaves } from "@/api/client";
import type { Stimulus, Waves, WavesAsk, WavesView } from "@/api/schema";
import type { RowCursor } from "@/cursor/useRowCursor";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { ErrorNote, Loading } from "@/kit/notes";
import { Result } from "./Result";
import { StimulusEditor } from "./StimulusEditor";

/** Whose waves: files of the pad, a hand-in, or what the exercise expects alone. */
type Of = { files: { name: string; text: string }[] } | { handIn: number } | { revision: number };

interface Props {
  course: number;
  exercise: number;
  of: Of;
  staff: boolean;
  /** With it the run waits for a click; without it the waves come at once. */
  runLabel?: string;
  /** The row cursor of the page, which goes with the time cursor. */
  cursor?: { rows: RowCursor; inputs: string[] };
}

function Kept({
  course,
  exercise,
  view,
  stimulus,
}: Pick<Props, "course" | "exercise"> & { view: WavesView; stimulus: Stimulus }) {
  const [done, setDone] = useState<"kept" | "forgotten" | null>(null);
  const keep = useMutation({
    mutationFn: (usual: boolean) =>
      keepWaves(course, exercise, { stimulus: usual ? null : stimulus, usual, arrangement: null }),
    onSuccess: (_, usual) => setDone(usual ? "forgotten" : "kept"),
  });
  return (
    <>
      <Button disabled={keep.isPending} onClick={() => keep.mutate(false)}>
        Keep with the exercise
      </Button>
      {(view.saved || done === "kept") && (
        <Button disabled={keep.isPending} onClick={() => keep.mutate(true)}>
          Forget the kept one
        </Button>
      )}
      <span role="status" className="text-sm text-ink-soft">
        {done === "kept" && "kept"}
        {done === "forgotten" && "forgotten; the usual one from the next time on"}
        {done === null && view.saved && "this is the one kept with the exercise"}
      </span>
      {keep.isError && <ErrorNote error={keep.error} />}
    </>
  );
}

/** Which unit is run on its own; all of the design without one. */
function UnitField(props: { units: string[]; unit: string; onChange: (unit: string) => void }) {
  const id = useId();
  return (
    <span className="flex items-center gap-2 text-sm">
      <label htmlFor={id}>unit</label>
      {props.units.length > 1 ? (
        <select
          id={id}
          className={`${CONTROL} mt-0! w-44!`}
          value={props.unit}
          onChange={(e) => props.onChange(e.target.value)}
        >
          <option value="">the whole design</option>
          {props.units.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      ) : (
        <input
          id={id}
          className={`${CONTROL} mono mt-0! w-36!`}
          placeholder="the whole design"
          value={props.unit}
          onChange={(e) => props.onChange(e.target.value.trim())}
        />
      )}
    </span>
  );
}

/** Runs a design under a stimulus or its testbench and shows its waves beside what is expected. */
export function WavesPanel({ course, exercise, of, staff, runLabel, cursor }: Props) {
  const [stimulus, setStimulus] = useState<Stimulus | null>(null);
  const [unit, setUnit] = useState("");
  const [until, setUntil] = useState("");
  const [editing, setEditing] = useState(false);
  const [drawing, setDrawing] = useState(false);
  const ask = (own: Stimulus | null): WavesAsk => ({
    files: "files" in of ? of.files : [],
    hand_in: "handIn" in of ? of.handIn : null,
    unit: unit === "" ? null : unit,
    stimulus: own,
    until_ns: until.trim() === "" ? null : Number(until),
    picture: false,
  });
  const [asked, setAsked] = useState<{ ask: WavesAsk; turn: number } | null>(
    runLabel === undefined ? { ask: ask(null), turn: 0 } : null,
  );
  const run = (own: Stimulus | null) => setAsked({ ask: ask(own), turn: (asked?.turn ?? 0) + 1 });
  const found = useQuery({
    queryKey: ["waves", course, exercise, "revision" in of ? of.revision : 0, asked],
    queryFn: ({ signal }) => runWaves(course, exercise, asked?.ask ?? ask(null), signal),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const queries = useQueryClient();
  const view = found.data;
  const waves: Waves | null = view?.waves ?? null;
  const shown = stimulus ?? waves?.stimulus ?? null;
  const wrong = until.trim() !== "" && !(Number(until) > 0);
  const units = waves?.units ?? [];
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <Button strength="strong" disabled={found.isFetching || wrong} onClick={() => run(stimulus)}>
          {found.isFetching ? "Running…" : (runLabel ?? "Run again")}
        </Button>
        {found.isFetching && (
          <Button onClick={() => void queries.cancelQueries({ queryKey: ["waves", course, exercise] })}>
            Stop
          </Button>
        )}
        {shown !== null && (
          <>
            <Button aria-pressed={editing} onClick={() => setEditing(!editing)}>
              Stimulus
            </Button>
            <Button aria-pressed={drawing} onClick={() => setDrawing(!drawing)}>
              {drawing ? "Stop drawing" : "Draw edges"}
            </Button>
          </>
        )}
        {!("revision" in of) && (waves === null || units.length > 1) && (
          <UnitField units={units} unit={unit} onChange={setUnit} />
        )}
        {"files" in of && (
          <label className="flex items-center gap-2 text-sm">
            at most
            <input
              className={`${CONTROL} mono mt-0! w-24!`}
              inputMode="decimal"
              placeholder="as long"
              value={until}
              onChange={(e) => setUntil(e.target.value)}
            />
            ns
          </label>
        )}
        {wrong && <span className="text-sm text-rust-ink">Write a number of nanoseconds.</span>}
        {staff && view !== undefined && shown !== null && (editing || stimulus !== null) && (
          <Kept course={course} exercise={exercise} view={view} stimulus={shown} />
        )}
      </div>
      {drawing && (
        <p className="mb-2 text-sm text-amber-ink">
          A click in the lane of an input with one bit turns its level over for a step.
        </p>
      )}
      {editing && shown !== null && (
        <div className="mb-3">
          <StimulusEditor stimulus={shown} onChange={setStimulus} />
        </div>
      )}
      {found.isError && <ErrorNote error={found.error} />}
      {found.isPending && found.isFetching && asked !== null && <Loading what="the waves" />}
      {view !== undefined && !found.isError && (
        <Result
          view={view}
          cursor={cursor}
          picture={async () => {
            const drawn = await runWaves(course, exercise, { ...(asked?.ask ?? ask(null)), picture: true });
            return drawn.picture ?? "";
          }}
          onArrange={
            staff
              ? (arrangement) =>
                  void keepWaves(course, exercise, { stimulus: null, usual: false, arrangement })
              : null
          }
          onDraw={
            drawing && shown !== null
              ? (next) => {
                  setStimulus(next);
                  run(next);
                }
              : null
          }
        />
      )}
    </div>
  );
}
