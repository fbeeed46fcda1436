import { useQuery } from "@tanstack/react-query";
import { get } from "@/api/client";
import type { Structure, StructureLevels } from "@/api/types";
import { StructureDrawing } from "./StructureDrawing";

/** A drawing wider than this is unreadable on paper. */
const WIDEST = 1_400;

/** The structure on paper: as written, with the levels of a row where one is to be shown. */
export function PrintedStructure(props: { course: number; handIn: number; row: string | null }) {
  const { course, handIn, row } = props;
  const base = `/api/courses/${course}/hand-ins/${handIn}/structure`;
  const drawing = useQuery({
    queryKey: ["structure", base, "view=written&output="],
    queryFn: () => get<Structure>(`${base}?view=written&output=`),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const levels = useQuery({
    queryKey: ["structure-levels", base, "view=written&output=", row],
    queryFn: () => get<StructureLevels>(`${base}/levels?view=written&row=${row}`),
    enabled: row !== null && drawing.data?.clocked === false,
    retry: false,
  });
  // What can't be drawn, or not on a page, is left out: the sources follow anyway.
  if (drawing.data === undefined || drawing.data.width > WIDEST) return null;
  return (
    <section className="mt-5 break-inside-avoid">
      <h2 className="mb-2 text-lg font-bold">Structure</h2>
      <div role="img" aria-label="Drawing of the structure">
        {/* On paper nothing is chosen. */}
        <div inert>
          <StructureDrawing
            drawing={drawing.data}
            levels={levels.data ?? null}
            chosen={null}
            onChoose={() => {}}
          />
        </div>
      </div>
      {levels.data !== undefined && (
        <p className="text-sm text-ink-soft">
          On row <span className="mono">{row}</span>
          {levels.data.of.length > 0 && (
            <>
              ; the broad band marks what decides <span className="mono">{levels.data.of.join(", ")}</span>
            </>
          )}
          .
        </p>
      )}
    </section>
  );
}
