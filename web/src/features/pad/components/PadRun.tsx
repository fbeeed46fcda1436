import { WavesPanel } from "@/features/waves";
import type { PadText } from "../model/pad";

interface Props {
  course: number;
  exercise: number;
  files: PadText[];
  staff: boolean;
}

/** Runs the pad: its testbench, or without one the design under a stimulus. */
export function PadRun({ course, exercise, files, staff }: Props) {
  return (
    <section aria-labelledby="run-title" className="mt-8">
      <h2 id="run-title" className="mb-2 text-lg font-bold">
        Run it
      </h2>
      <p className="mb-2 text-sm text-ink-soft">
        Runs the testbench among the files. Without one the inputs do what the stimulus says: all combinations
        in binary order at first, and the clock ticks.
      </p>
      <WavesPanel course={course} exercise={exercise} of={{ files }} staff={staff} runLabel="Run" />
    </section>
  );
}
