import { clsx } from "clsx";
import { useEffect, useRef } from "react";
import type { TraceStep } from "@/api/schema";
import { isWrong, type Lane, lanes } from "./cycles";

interface CellProps {
  value: string;
  before: string | undefined;
  wrong: boolean;
}

/** One cycle of a lane: a scalar as a stretch of a wave, a vector as its bits. */
function Cell({ value, before, wrong }: CellProps) {
  const scalar = value.length === 1;
  return (
    <span
      className={clsx(
        "mono flex h-7 items-center justify-center px-1.5",
        wrong && "hatched-wrong font-bold",
        scalar && value === "1" && "border-t-3 border-amber bg-amber-wash text-amber-ink",
        scalar && value === "0" && "border-b border-ink text-ink-soft",
        scalar && value === "X" && "hatched text-violet font-bold",
        scalar && value === "-" && "text-ink-soft",
        !scalar && "border-y border-rule-strong",
        !scalar && before !== undefined && before !== value && "border-l-2 border-l-ink",
      )}
    >
      {value === "-" ? "–" : value}
    </span>
  );
}

function Row({ lane, values, label }: { lane: Lane; values: string[]; label: string }) {
  return (
    <tr>
      <th
        scope="row"
        className="sticky left-0 z-10 bg-sheet py-1 pr-4 pl-3 text-left font-normal whitespace-nowrap"
      >
        <span className="mono font-bold">{lane.name}</span>{" "}
        <span className="text-sm text-ink-soft">{label}</span>
      </th>
      {values.map((value, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a cycle is its place
        <td key={i} className="py-1">
          <Cell
            value={value}
            before={values[i - 1]}
            wrong={label === "is" && isWrong(value, lane.expected[i] ?? "")}
          />
        </td>
      ))}
    </tr>
  );
}

/** The clock cycles that lead to a difference, outputs as they are above what they should be. */
export function CycleStrip({ trace }: { trace: TraceStep[] }) {
  const scroll = useRef<HTMLElement>(null);
  // The difference is at the end.
  useEffect(() => {
    const element = scroll.current;
    if (element !== null && trace.length > 0) element.scrollLeft = element.scrollWidth;
  }, [trace]);
  return (
    <section aria-labelledby="cycles-title">
      <h2 id="cycles-title" className="mb-2 text-lg font-bold">
        The way there, cycle by cycle
      </h2>
      <section
        ref={scroll}
        className="overflow-x-auto border border-rule bg-sheet py-2 pr-3"
        tabIndex={0}
        aria-label="Levels in each clock cycle"
      >
        <table className="border-collapse">
          <thead>
            <tr>
              <th
                scope="col"
                className="sticky left-0 z-10 bg-sheet pr-4 pl-3 text-left text-sm font-normal text-ink-soft"
              >
                clock edges before
              </th>
              {trace.map((step, i) => (
                <th
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cycle is its place
                  key={i}
                  scope="col"
                  className={clsx(
                    "mono min-w-9 border-b border-rule-strong text-sm",
                    i === trace.length - 1 ? "font-bold text-rust-ink" : "font-normal text-ink-soft",
                  )}
                >
                  {step.cycle}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lanes(trace).flatMap((lane) =>
              lane.kind === "input"
                ? [<Row key={lane.name} lane={lane} values={lane.actual} label="" />]
                : [
                    <Row key={`${lane.name} is`} lane={lane} values={lane.actual} label="is" />,
                    <Row key={`${lane.name} wanted`} lane={lane} values={lane.expected} label="should be" />,
                  ],
            )}
          </tbody>
        </table>
      </section>
    </section>
  );
}
