import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "@/api/client";
import type { RowsView } from "@/api/types";
import { type RowCursor, rowText } from "@/cursor/useRowCursor";
import { Button } from "@/kit/Button";
import { ErrorNote, Loading } from "@/kit/notes";

interface Props {
  course: number;
  handIn: number;
  cursor: RowCursor;
  /** Input bits. */
  inputs: number;
}

/** The few rows that show every fault of the circuit and its wires, to be walked at the board. */
export function RowsToTry({ course, handIn, cursor, inputs }: Props) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ["rows-to-try", course, handIn],
    queryFn: () => get<RowsView>(`/api/courses/${course}/hand-ins/${handIn}/rows-to-try`),
    enabled: open,
    retry: false,
  });
  const here = rowText(cursor.row, inputs);
  const rows = found.data?.rows ?? [];
  const next = () => {
    const row = rows[(rows.indexOf(here) + 1) % rows.length];
    if (row !== undefined) cursor.setRow(Number.parseInt(row, 2));
  };
  return (
    <section aria-label="Rows to try" className="mt-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          Rows to try
        </Button>
        {rows.length > 0 && open && <Button onClick={next}>Next one</Button>}
        {!open && (
          <span className="text-sm text-ink-soft">
            The few rows that show every fault of circuit and wires.
          </span>
        )}
      </div>
      {open && found.isPending && <Loading what="the rows" />}
      {open && found.isError && <ErrorNote error={found.error} />}
      {open && found.data !== undefined && (
        <>
          <p className="mt-2">{found.data.sentence}</p>
          <ol className="mt-1 flex flex-wrap gap-1.5">
            {rows.map((row) => (
              <li key={row}>
                <button
                  type="button"
                  aria-pressed={row === here}
                  onClick={() => cursor.setRow(Number.parseInt(row, 2))}
                  className={`mono rounded-sm border px-2 py-0.5 ${row === here ? "border-ink bg-amber-wash font-bold" : "border-rule-strong bg-sheet hover:bg-tint"}`}
                >
                  {row}
                </button>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
