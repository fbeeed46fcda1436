import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import { StructureDrawing } from "./StructureDrawing";

/** A drawing wider than this is unreadable on paper. */
const WIDEST = 1_400;

/** The structure on paper: as written, with the levels of a row where one is to be shown. */
export function PrintedStructure(props: { course: number; handIn: number; row: string | null }) {
  const { course, handIn, row } = props;
  const path = { course, hand_in: handIn };
  const drawing = useQuery({
    queryKey: ["structure", course, handIn, "written", ""],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/structure", {
          params: { path, query: { view: "written", output: "" } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const levels = useQuery({
    queryKey: ["structure-levels", course, handIn, "written", "", row],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/structure/levels", {
          params: { path, query: { view: "written", row: row ?? "" } },
        }),
      ),
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
