import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import type { ExercisePage } from "@/api/schema";
import { ClockedRule, Rules, Statement } from "@/features/exercise";
import { BlackBox, Blank, PaperFrame, PaperTable } from "@/features/print";
import { KarnaughMap, mapPlan } from "@/features/workings";
import { ErrorNote, Loading } from "@/kit/notes";
import { useKey } from "./useKey";

const STILL = { row: -1, setRow: () => {} };

function Sheet({ course, page }: { course: number; page: ExercisePage }) {
  const plan = mapPlan(page.inputs.length);
  const names = page.outputs.map((o) => ({ name: o.name, values: "" }));
  return (
    <PaperFrame title={page.title} kind="Handout" back={`/courses/${course}/exercises/${page.id}`}>
      <p className="mb-4 flex gap-8">
        <span className="grow border-b border-rule-strong">Name</span>
        <span className="w-40 border-b border-rule-strong">Section</span>
        <span className="w-40 border-b border-rule-strong">Date</span>
      </p>
      <Statement text={page.statement} />
      <section className="mt-4 break-inside-avoid">
        <h2 className="mb-1 text-lg font-bold">Design</h2>
        <BlackBox ports={page.ports} title={page.title} />
      </section>
      {page.clocked !== null && (
        <section className="mt-5">
          <h2 className="mb-2 text-lg font-bold">Behaviour</h2>
          <ClockedRule clocked={page.clocked} />
        </section>
      )}
      <Rules list={page.rules} />
      {page.clocked === null && page.wide === null && (
        <section className="mt-5">
          <h2 className="mb-2 text-lg font-bold">Truth table</h2>
          {page.inputs.length <= 6 ? (
            <PaperTable inputs={page.inputs} outputs={names} />
          ) : (
            <p>The table has {2 ** page.inputs.length} rows; work on the outputs by their expressions.</p>
          )}
        </section>
      )}
      {plan !== null && page.inputs.length >= 2 && (
        <section className="mt-5">
          <h2 className="mb-2 text-lg font-bold">Karnaugh maps and forms</h2>
          <div className="grid grid-cols-2 gap-x-8 gap-y-5">
            {page.outputs.map((o) => (
              <div key={o.name} className="break-inside-avoid">
                <h3 className="mono font-bold">{o.name}</h3>
                <KarnaughMap
                  plan={plan}
                  inputs={page.inputs}
                  values=""
                  groups={[]}
                  cursor={STILL}
                  label={`Empty map of ${o.name}`}
                />
                <Blank label={`${o.name} as a minimal sum of products`} />
                <Blank label={`${o.name} as a minimal product of sums`} />
              </div>
            ))}
          </div>
        </section>
      )}
      {page.answers.length > 0 && (
        <section className="mt-5 break-inside-avoid">
          <h2 className="text-lg font-bold">Answers to type in</h2>
          {page.answers.map((q) => (
            <Blank
              key={`${q.output}.${q.ask}`}
              label={`${q.output}.${q.ask} (${q.marks} ${q.marks === 1 ? "mark" : "marks"})`}
            />
          ))}
        </section>
      )}
      {page.plan.length > 0 && (
        <section className="mt-5 break-inside-avoid">
          <h2 className="mb-1 text-lg font-bold">
            Wiring{page.board !== null && ` on the ${page.board.title}`}
          </h2>
          <table className="paper-table mono text-sm">
            <thead>
              <tr>
                <th scope="col">port</th>
                <th scope="col">part</th>
                <th scope="col">pin</th>
              </tr>
            </thead>
            <tbody>
              {page.plan.map((line) => (
                <tr key={line.bit}>
                  <td>{line.bit}</td>
                  <td>{line.part}</td>
                  <td>{line.pin}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </PaperFrame>
  );
}

export function HandoutScreen() {
  const course = useKey("course");
  const exercise = useKey("exercise");
  const page = useQuery({
    queryKey: ["exercise", course, exercise],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/exercises/{exercise}", { params: { path: { course, exercise } } }),
      ),
  });
  if (page.isPending) return <Loading what="the handout" />;
  if (page.isError) return <ErrorNote error={page.error} onRetry={() => page.refetch()} />;
  return <Sheet course={course} page={page.data} />;
}
