import { useQuery } from "@tanstack/react-query";
import { runWaves } from "@/api/client";

interface Props {
  course: number;
  exercise: number;
  /** A hand-in; what the exercise expects alone without one. */
  handIn: number | null;
}

/** Waves for paper: the picture of a run under the stimulus of the exercise. */
export function PrintedWaves({ course, exercise, handIn }: Props) {
  const found = useQuery({
    queryKey: ["printed-waves", course, exercise, handIn],
    queryFn: () =>
      runWaves(course, exercise, {
        files: [],
        hand_in: handIn,
        unit: null,
        stimulus: null,
        until_ns: null,
        picture: true,
      }),
    retry: false,
  });
  const picture = found.data?.picture ?? null;
  if (picture === null || (found.data?.waves.lanes.length ?? 0) === 0) return null;
  const differ = found.data?.waves.lanes.some((l) => l.differs.length > 0) === true;
  return (
    <section className="mt-5 break-inside-avoid">
      <h2 className="mb-2 text-lg font-bold">Waves</h2>
      <img
        className="w-full border border-rule"
        src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(picture)}`}
        alt={
          handIn === null
            ? "Inputs and expected outputs over time"
            : `Inputs, outputs and what is expected of them over time${differ ? "; where they differ is hatched" : ""}`
        }
      />
    </section>
  );
}
