import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { runPad } from "@/api/client";
import type { SimulateView } from "@/api/types";
import { WaveView } from "@/features/waves";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Prose } from "@/kit/Prose";
import type { PadText } from "../model/pad";

const ENDS: Record<string, string> = {
  finished: "The testbench ended it.",
  quiet: "Nothing was left to happen.",
  until: "The time asked for was reached.",
  stopped: "It was stopped.",
  not_run: "It could not be run.",
};

function Result({ view }: { view: SimulateView }) {
  const stops = view.findings.filter((f) => f.severity === "stop");
  return (
    <div className="space-y-4">
      <p aria-live="polite">
        {view.top === "stimulus_of_all_rows" && view.end === "finished" ? (
          "Every combination of the inputs was run."
        ) : (
          <>
            {view.top !== null && (
              <>
                Ran <code>{view.top}</code>.{" "}
              </>
            )}
            {ENDS[view.end] ?? ""}
          </>
        )}
        {view.failed > 0 && ` ${view.failed} assertions failed.`}
        {view.cut && " Only the first part of it is shown here."}
      </p>
      {stops.map((f) => (
        <p key={`${f.code} ${f.line}`} className="border-l-4 border-rust bg-sheet px-3 py-2">
          {f.file !== null && (
            <span className="mono text-sm text-ink-soft">
              {f.file}:{f.line}{" "}
            </span>
          )}
          <b>
            <Prose text={f.message} />
          </b>{" "}
          <Prose text={f.help} />
        </p>
      ))}
      {view.output !== "" && (
        <section aria-label="What it wrote">
          <pre className="mono max-h-72 overflow-auto border border-rule bg-sheet p-2 text-sm" tabIndex={0}>
            {view.output}
          </pre>
        </section>
      )}
      {view.lanes.length > 0 && <WaveView key={view.time} lanes={view.lanes} end={view.time} />}
    </div>
  );
}

/** Runs the pad: its testbench, or without one the design over all combinations of its inputs. */
export function PadRun({ course, exercise, files }: { course: number; exercise: number; files: PadText[] }) {
  const [until, setUntil] = useState("");
  const [top, setTop] = useState("");
  const run = useMutation({
    mutationFn: () =>
      runPad(course, exercise, {
        files,
        top: top.trim() === "" ? null : top.trim(),
        until_ns: until.trim() === "" ? null : Number(until),
      }),
  });
  const wrong = until.trim() !== "" && !(Number(until) > 0);
  return (
    <section aria-labelledby="run-title" className="mt-8">
      <div className="mb-2 flex flex-wrap items-center gap-3">
        <h2 id="run-title" className="text-lg font-bold">
          Run it
        </h2>
        <Button strength="strong" disabled={run.isPending || wrong} onClick={() => run.mutate()}>
          {run.isPending ? "Running…" : "Run"}
        </Button>
        <label className="flex items-center gap-2 text-sm">
          unit
          <input
            className={`${CONTROL} mono mt-0! w-36!`}
            placeholder="the testbench"
            value={top}
            onChange={(e) => setTop(e.target.value)}
          />
        </label>
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
        {wrong && <span className="text-sm text-rust-ink">Write a number of nanoseconds.</span>}
      </div>
      <p className="mb-2 text-sm text-ink-soft">
        Runs the testbench among the files. Without one the inputs take every combination in binary order, 10
        ns each; one called like a clock ticks.
      </p>
      {run.isError && <ErrorNote error={run.error} />}
      {run.data !== undefined && <Result view={run.data} />}
    </section>
  );
}
