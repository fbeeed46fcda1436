import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import type { DerivedOutput, WorkingsView } from "@/api/schema";
import { BlackBox, PaperFrame, PaperTable } from "@/features/print";
import { PrintedWaves } from "@/features/waves";
import { Expression, KarnaughMap, mapPlan, smallness } from "@/features/workings";
import { ErrorNote, Loading } from "@/kit/notes";
import { useStored } from "@/kit/useStored";
import { useKey } from "./useKey";

const STILL = { row: -1, setRow: () => {} };

function Output({ output, view, notation }: { output: DerivedOutput; view: WorkingsView; notation: string }) {
  const inputs = view.derivation?.inputs ?? [];
  const plan = mapPlan(inputs.length);
  const sop = output.sop.covers[0]?.cubes ?? [];
  const values = view.columns.find((c) => c.name === output.name)?.values ?? "";
  const line = (title: string, children: React.ReactNode) => (
    <p className="py-0.5">
      <span className="inline-block w-32 text-ink-soft">{title}</span>
      {children}
    </p>
  );
  return (
    <section className="mt-5 break-inside-avoid">
      <h2 className="mono text-lg font-bold">{output.name}</h2>
      <div className="grid grid-cols-[minmax(0,20rem)_minmax(0,1fr)] gap-6">
        <div>
          {plan !== null && (
            <KarnaughMap
              plan={plan}
              inputs={inputs}
              values={values}
              groups={sop}
              cursor={STILL}
              label={`Map of ${output.name}`}
            />
          )}
        </div>
        <div>
          {line("Minterms", <span className="mono">Σm({output.minterms.join(", ")})</span>)}
          {output.dont_cares.length > 0 &&
            line("Don't-cares", <span className="mono">d({output.dont_cares.join(", ")})</span>)}
          {output.sop.covers.map((cover, i) => (
            <div key={cover.text}>
              {line(
                i === 0 ? "Minimal SOP" : "or",
                <Expression inputs={inputs} cubes={cover.cubes} shape="sop" notation={notation} row={-1} />,
              )}
            </div>
          ))}
          {line("", <span className="text-sm text-ink-soft">{smallness(output.sop)}</span>)}
          {output.pos.covers.map((cover, i) => (
            <div key={cover.text}>
              {line(
                i === 0 ? "Minimal POS" : "or",
                <Expression inputs={inputs} cubes={cover.cubes} shape="pos" notation={notation} row={-1} />,
              )}
            </div>
          ))}
          {line("", <span className="text-sm text-ink-soft">{smallness(output.pos)}</span>)}
          {line(
            "NAND–NAND",
            <Expression inputs={inputs} cubes={sop} shape="nand" notation={notation} row={-1} />,
          )}
          {line(
            "NOR–NOR",
            <Expression
              inputs={inputs}
              cubes={output.pos.covers[0]?.cubes ?? []}
              shape="nor"
              notation={notation}
              row={-1}
            />,
          )}
        </div>
      </div>
    </section>
  );
}

export function KeyScreen() {
  const course = useKey("course");
  const exercise = useKey("exercise");
  const [notation] = useStored("zesty-notation", "prime");
  const found = useQuery({
    queryKey: ["key", course, exercise, notation],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}/workings", {
          params: { path: { course, exercise }, query: { notation } },
        }),
      ),
  });
  if (found.isPending) return <Loading what="the key" />;
  if (found.isError) return <ErrorNote error={found.error} onRetry={() => found.refetch()} />;
  const view = found.data;
  const inputs = view.derivation?.inputs ?? [];
  return (
    <PaperFrame title={view.draft.title} kind="Answer key" back={`/courses/${course}/exercises/${exercise}`}>
      {view.problem !== null && <p>{view.problem.message}</p>}
      <BlackBox ports={view.ports} title={view.draft.title} />
      {inputs.length > 0 && inputs.length <= 6 && (
        <section className="mt-4 break-inside-avoid">
          <h2 className="mb-2 text-lg font-bold">Truth table</h2>
          <PaperTable inputs={inputs} outputs={view.columns} />
        </section>
      )}
      <PrintedWaves course={course} exercise={exercise} handIn={null} />
      {view.derivation?.outputs.map((output) => (
        <Output key={output.name} output={output} view={view} notation={notation} />
      ))}
    </PaperFrame>
  );
}
