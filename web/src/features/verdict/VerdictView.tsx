import { useState } from "react";
import type { Finding, HandInPage } from "@/api/types";
import { parseRow, type RowCursor } from "@/cursor/useRowCursor";
import { BenchPanel } from "@/features/bench";
import { Answers } from "./Answers";
import { FindingList } from "./FindingList";
import { RowsView } from "./RowsView";
import { SourceView } from "./SourceView";
import { StageStrip } from "./StageStrip";

interface Props {
  course: number;
  page: HandInPage;
  cursor: RowCursor;
}

/** The files as tabs by name; the one with the active finding comes up by itself. */
function Sources({ page, active }: { page: HandInPage; active: Finding | null }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const name = chosen ?? active?.file ?? page.files[0]?.name ?? null;
  const file = page.files.find((f) => f.name === name) ?? page.files[0];
  if (file === undefined) return null;
  const findings = (page.verdict?.findings ?? []).filter((f) => f.file === file.name);
  return (
    <section aria-label="Files">
      <div className="mb-2 flex flex-wrap gap-x-4" role="group" aria-label="Choose a file">
        {page.files.map((f) => (
          <button
            key={f.name}
            type="button"
            aria-pressed={f === file}
            onClick={() => setChosen(f.name)}
            className={`mono border-b-2 ${f === file ? "border-ink font-bold" : "border-transparent text-ink-soft hover:border-rule-strong"}`}
          >
            {f.name}
          </button>
        ))}
      </div>
      <SourceView file={file} findings={findings} active={active?.file === file.name ? active : null} />
    </section>
  );
}

/** The verdict by its evidence: findings beside the source, rows beside the bench. */
export function VerdictView({ course, page, cursor }: Props) {
  const findings = page.verdict?.findings ?? [];
  const [index, setIndex] = useState(0);
  const active = findings[index] ?? null;
  const choose = (next: number) => {
    setIndex(next);
    const row = findings[next]?.evidence?.row ?? null;
    if (row !== null) cursor.setRow(parseRow(row, page.inputs.length));
  };
  const runs = page.actual.length > 0;
  return (
    <>
      {page.verdict !== null && <StageStrip stages={page.verdict.stages} />}
      <div className="mt-5 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <section aria-labelledby="findings-title">
          <h2 id="findings-title" className="mb-2 text-lg font-bold">
            Findings
          </h2>
          <FindingList findings={findings} active={index} onChoose={choose} />
        </section>
        <Sources key={`${page.id} ${active?.file ?? ""}`} page={page} active={active} />
      </div>
      {page.verdict?.answers !== undefined && page.verdict.answers.length > 0 && (
        <div className="mt-8">
          <Answers answers={page.verdict.answers} />
        </div>
      )}
      {runs && (
        <div className="mt-8 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
          <RowsView page={page} cursor={cursor} />
          {page.board !== null && (
            <BenchPanel
              board={page.board}
              base={`/api/courses/${course}/hand-ins/${page.id}/bench`}
              cursor={cursor}
              loaded={
                page.files.some((f) => f.kind === "wiring")
                  ? "This design, wired as handed in"
                  : "This design, wired as planned"
              }
            />
          )}
        </div>
      )}
    </>
  );
}
