import { useQuery } from "@tanstack/react-query";
import { answered, api } from "@/api/client";
import type { HandInPage } from "@/api/schema";
import { timeText } from "@/features/hand-in/HandInList";
import { PaperFrame, PaperTable } from "@/features/print";
import { PrintedStructure } from "@/features/structure";
import { budgetWords, FindingList, NearMisses, proofWords, StageStrip } from "@/features/verdict";
import { PrintedWaves } from "@/features/waves";
import { ErrorNote, Loading } from "@/kit/notes";
import { Prose } from "@/kit/Prose";
import { StateMark } from "@/kit/StateMark";
import { useKey } from "./useKey";

/** Rows of a table that still fit on paper. */
const ROWS = 64;

/** Source files as they were handed in, with numbers beside the lines. */
function Sources({ page }: { page: HandInPage }) {
  return page.files.map((file) => (
    <section key={file.name} className="mt-5">
      <h2 className="mono text-lg font-bold">{file.name}</h2>
      <pre className="mono overflow-x-auto whitespace-pre-wrap text-xs">
        {(file.text ?? "not a text").split("\n").map((line, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is its number
          <span key={i} className="block">
            <span className="inline-block w-10 pr-3 text-right text-ink-soft">{i + 1}</span>
            {line}
          </span>
        ))}
      </pre>
    </section>
  ));
}

/** The row that shows the first finding. */
function shownRow(page: HandInPage): string | null {
  const rows = (page.verdict?.findings ?? []).map((f) => f.evidence?.row ?? null);
  return rows.find((row) => row?.length === page.inputs.length) ?? null;
}

/** A hand-in on paper: verdict, findings, table, structure, waves, sources, sign-off. */
export function ReportScreen() {
  const course = useKey("course");
  const handIn = useKey("handIn");
  const found = useQuery({
    queryKey: ["hand-in", course, handIn],
    queryFn: () =>
      answered(
        api.GET("/api/courses/{course}/hand-ins/{hand_in}", {
          params: { path: { course, hand_in: handIn } },
        }),
      ),
  });
  if (found.isPending) return <Loading what="the report" />;
  if (found.isError) return <ErrorNote error={found.error} onRetry={() => found.refetch()} />;
  const page = found.data;
  const verdict = page.verdict;
  return (
    <PaperFrame
      title={page.title}
      kind={`Report: ${page.student}`}
      back={`/courses/${course}/hand-ins/${handIn}`}
      backTo="the hand-in"
    >
      <div className="flex items-center gap-4">
        <StateMark mark={{ ...page.cell, signed: page.cell.signed_off !== null }} size={44} />
        <div>
          <p className="text-lg font-bold">
            <Prose text={page.headline ?? "The check has not run yet."} />
          </p>
          <p className="text-ink-soft">
            Attempt {page.cell.attempt}, {timeText(page.submitted_at)}
            {verdict != null &&
              verdict.proof.kind !== "none" &&
              ` · ${proofWords(verdict.proof, verdict.rows)}`}
            {verdict !== null && budgetWords(verdict.proof) !== null && ` · ${budgetWords(verdict.proof)}`}
            {verdict?.marks != null && ` · ${verdict.marks.earned} of ${verdict.marks.out_of} marks`}
            {page.cell.signed_off !== null && ` · signed off by ${page.cell.signed_off}`}
          </p>
        </div>
      </div>
      {verdict !== null && <StageStrip stages={verdict.stages} marks={verdict.marks?.parts ?? []} />}
      {verdict !== null && verdict.findings.length > 0 && (
        <section className="mt-5">
          <h2 className="mb-2 text-lg font-bold">Findings</h2>
          <FindingList findings={verdict.findings} active={-1} onChoose={() => {}} />
        </section>
      )}
      {verdict !== null && verdict.near_misses.length > 0 && <NearMisses list={verdict.near_misses} />}
      {page.actual.length > 0 && 2 ** page.inputs.length <= ROWS && (
        <section className="mt-5 break-inside-avoid">
          <h2 className="mb-2 text-lg font-bold">What the design does</h2>
          <PaperTable
            inputs={page.inputs}
            outputs={[
              ...page.actual,
              ...page.expected.map((c) => ({ name: `expected ${c.name}`, values: c.values })),
            ]}
          />
        </section>
      )}
      {verdict?.resources != null && (
        <PrintedStructure course={course} handIn={page.id} row={shownRow(page)} />
      )}
      {verdict !== null && <PrintedWaves course={course} exercise={page.exercise} handIn={page.id} />}
      <Sources page={page} />
    </PaperFrame>
  );
}
