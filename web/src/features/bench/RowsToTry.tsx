import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "@/api/client";
import { type RowCursor, rowText } from "@/cursor/useRowCursor";
import { Button } from "@/kit/Button";
import { Level } from "@/kit/Level";
import { ErrorNote, Loading } from "@/kit/notes";

interface Props {
  course: number;
  handIn: number;
  cursor: RowCursor;
  /** Input bits. */
  inputs: number;
}

/** The ticks of a run, a line each: what to set, and what the lamps then show. */
export function TicksToTry({ course, handIn }: { course: number; handIn: number }) {
  const [open, setOpen] = useState(false);
  const found = useRowsToTry(course, handIn, open);
  const ticks = found.data?.ticks ?? null;
  return (
    <section aria-label="Ticks to try">
      <div className="flex flex-wrap items-center gap-2">
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          Ticks to try
        </Button>
        {!open && (
          <span className="text-sm text-ink-soft">A short run at a board that shows most faults.</span>
        )}
      </div>
      {open && found.isPending && <Loading what="the ticks" />}
      {open && found.isError && <ErrorNote error={found.error} />}
      {open && ticks !== null && (
        <>
          <p className="mt-2">{found.data?.sentence}</p>
          <div className="mt-1 max-h-80 max-w-max overflow-auto border border-rule bg-sheet">
            <table className="mono text-center text-sm">
              <thead className="sticky top-0 bg-paper">
                <tr>
                  <th scope="col" className="px-2 font-normal text-ink-soft">
                    tick
                  </th>
                  {ticks.inputs.map((name) => (
                    <th scope="col" key={name} className="px-2">
                      {name}
                    </th>
                  ))}
                  {ticks.outputs.map((name, k) => (
                    <th
                      scope="col"
                      key={name}
                      className={`px-2 ${k === 0 ? "border-l-2 border-rule-strong" : ""}`}
                    >
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {ticks.ticks.map((tick, n) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a tick is its number
                  <tr key={n} className={n % 4 === 3 ? "border-b border-rule" : ""}>
                    <th scope="row" className="px-2 font-normal text-ink-soft">
                      {n + 1}
                    </th>
                    {ticks.inputs.map((name, k) => {
                      const now = tick.inputs[k];
                      const turned = n > 0 && ticks.ticks[n - 1]?.inputs[k] !== now;
                      return (
                        <td key={name} className={turned ? "bg-tint font-bold" : ""}>
                          <Level value={now ?? ""} />
                        </td>
                      );
                    })}
                    {ticks.outputs.map((name, k) => (
                      <td key={name} className={k === 0 ? "border-l-2 border-rule-strong" : ""}>
                        <Level value={tick.outputs[k] ?? ""} />
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </section>
  );
}

function useRowsToTry(course: number, handIn: number, open: boolean) {
  return useQuery({
    queryKey: ["rows-to-try", course, handIn],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}/rows-to-try", {
          params: { path: { course, hand_in: handIn } },
        }),
      ),
    enabled: open,
    retry: false,
  });
}

/** The few rows that show every fault of the circuit and its wires, to be walked at the board. */
export function RowsToTry({ course, handIn, cursor, inputs }: Props) {
  const [open, setOpen] = useState(false);
  const found = useRowsToTry(course, handIn, open);
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
