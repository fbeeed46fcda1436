import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "@/api/client";
import type { DividerPlan } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";

const WAYS: Record<string, string> = {
  toggle: "the output is turned over at the terminal count",
  pulse: "one cycle high at the terminal count",
};

function Plan({ plan }: { plan: DividerPlan }) {
  const cell = "border border-rule px-2 py-1";
  return (
    <tr>
      <th className={`${cell} text-left font-medium`}>{WAYS[plan.kind] ?? plan.kind}</th>
      <td className={`${cell} mono text-right font-bold`}>{plan.terminal_count.toLocaleString("en-GB")}</td>
      <td className={`${cell} mono`}>{plan.formula}</td>
      <td className={`${cell} mono text-right`}>{plan.width}</td>
      <td className={`${cell} mono text-right`}>{Number(plan.achieved_hz.toPrecision(9))} Hz</td>
      <td className={`${cell} mono text-right`}>
        {Math.abs(plan.error_ppm) < 0.0005 ? "exact" : `${Number(plan.error_ppm.toPrecision(4))} ppm`}
      </td>
    </tr>
  );
}

/** The terminal count that divides a clock down to a frequency. */
export function Divider() {
  const [clock, setClock] = useState("12000000");
  const [wanted, setWanted] = useState("1");
  const plain = (text: string) => text.replace(/[\s_]/g, "").replace(",", ".");
  const [f, w] = [plain(clock), plain(wanted)];
  const isTyped = /^\d+$/.test(f) && /^\d*\.?\d+$/.test(w);
  const plans = useQuery({
    queryKey: ["divider", f, w],
    queryFn: () =>
      answered(api.GET("/api/divider", { params: { query: { clock_hz: Number(f), wanted_hz: Number(w) } } })),
    enabled: isTyped,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const head = "border border-rule bg-tint px-2 py-1 text-left";
  return (
    <>
      <div className="mb-3 flex flex-wrap gap-4">
        <Field label="Clock in Hz">
          <input
            className={`${CONTROL} mono w-48!`}
            inputMode="numeric"
            value={clock}
            onChange={(e) => setClock(e.target.value)}
          />
        </Field>
        <Field label="Wanted in Hz">
          <input
            className={`${CONTROL} mono w-48!`}
            inputMode="decimal"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
          />
        </Field>
      </div>
      {!isTyped && (
        <p role="alert" className="text-rust-ink">
          Write the clock as a whole number of Hz and the wanted frequency as a number, such as 0.5.
        </p>
      )}
      {isTyped && plans.isError && <ErrorNote error={plans.error} />}
      {isTyped && plans.data !== undefined && !plans.isError && (
        <div className="overflow-x-auto">
          <table className="border-collapse bg-sheet" aria-live="polite">
            <thead>
              <tr>
                {["Way", "Terminal count", "Formula", "Counter bits", "Gives", "Off by"].map((h) => (
                  <th key={h} className={head}>
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {plans.data.map((plan) => (
                <Plan key={plan.kind} plan={plan} />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
