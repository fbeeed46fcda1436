import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { Finding, HandInPage } from "@/api/schema";
import { parseRow, type RowCursor, rowText } from "@/cursor/useRowCursor";
import { BenchPanel, RowsToTry, TicksToTry } from "@/features/bench";
import { StructureSection } from "@/features/structure";
import { Answers } from "./Answers";
import { CycleStrip } from "./CycleStrip";
import { FindingList } from "./FindingList";
import { FixPreview } from "./FixPreview";
import { NearMisses } from "./NearMisses";
import { RowsView } from "./RowsView";
import { SourceView } from "./SourceView";
import { StageStrip } from "./StageStrip";

interface Props {
  course: number;
  page: HandInPage;
  cursor: RowCursor;
}

/** A line of a file that a symbol of the structure comes from. */
interface Place {
  file: string;
  line: number;
}

/** The files as tabs by name; the one with the active finding comes up by itself. */
function Sources(props: {
  page: HandInPage;
  active: Finding | null;
  /** The file that was chosen by its tab or by a symbol of the structure. */
  chosen: string | null;
  onChoose: (file: string) => void;
  /** The line of the symbol that was chosen. */
  place: Place | null;
  onStep: (by: 1 | -1) => void;
}) {
  const { page, active, chosen, onChoose, place, onStep } = props;
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
            onClick={() => onChoose(f.name)}
            className={`mono border-b-2 ${f === file ? "border-ink font-bold" : "border-transparent text-ink-soft hover:border-rule-strong"}`}
          >
            {f.name}
          </button>
        ))}
      </div>
      {(active?.evidence?.path ?? []).some((p) => p.file === file.name) && (
        <p className="mb-1 text-sm text-amber-ink">Lines with an amber edge decide the level on that row.</p>
      )}
      <SourceView
        file={file}
        findings={findings}
        active={active?.file === file.name ? active : null}
        evidence={active?.evidence ?? null}
        line={place?.file === file.name ? place.line : null}
        onStep={onStep}
      />
    </section>
  );
}

/** The verdict by its evidence: findings beside the source, rows beside the bench. */
export function VerdictView({ course, page, cursor }: Props) {
  const benchOf = useMemo(() => ({ course, handIn: page.id }), [course, page.id]);
  const findings = page.verdict?.findings ?? [];
  const [index, setIndex] = useState(0);
  const [file, setFile] = useState<string | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const active = findings[index] ?? null;
  const choose = (next: number) => {
    setIndex(next);
    setFile(null);
    setPlace(null);
    const evidence = findings[next]?.evidence ?? null;
    const row = evidence?.cycle === null ? evidence.row : null;
    // Where there are too many inputs for a table there is no row to go to.
    if (row !== null && row.length === page.inputs.length) cursor.setRow(parseRow(row, page.inputs.length));
  };
  const step = (by: 1 | -1) => choose(Math.min(Math.max(index + by, 0), findings.length - 1));
  const fixes = (finding: Finding) =>
    (finding.fixes ?? []).map((fix, k) => {
      const text = page.files.find((f) => f.name === fix.file)?.text ?? null;
      if (text === null) return null;
      const pad = `/courses/${course}/exercises/${page.exercise}/pad?from=${page.id}`;
      return (
        <FixPreview key={fix.label} text={text} fix={fix}>
          <Link className="underline" to={`${pad}&finding=${findings.indexOf(finding)}&fix=${k}`}>
            Use in a new attempt
          </Link>
        </FixPreview>
      );
    });
  const runs = page.actual.length > 0;
  const hasDesign = page.files.some((f) => f.kind === "design");
  // Of a clocked design the moment that shows the finding: what its registers hold is known then.
  const told = active?.evidence?.state !== undefined ? active : findings[0];
  const moment =
    page.clocked && told?.evidence?.state !== undefined && told.evidence.cycle !== null
      ? { finding: findings.indexOf(told), cycle: told.evidence.cycle }
      : null;
  // Without a table the row that shows the finding is the one that is looked at.
  const shown = (active ?? findings[0])?.evidence?.row ?? null;
  const near = page.verdict?.near_misses ?? [];
  const trace = findings.find((f) => f === active)?.evidence?.trace ?? findings[0]?.evidence?.trace ?? [];
  return (
    <>
      {page.verdict !== null && (
        <StageStrip stages={page.verdict.stages} marks={page.verdict.marks?.parts ?? []} />
      )}
      {near.length > 0 && <NearMisses list={near} />}
      {trace.length > 0 && (
        <div className="mt-5">
          <CycleStrip trace={trace} />
        </div>
      )}
      <div className="mt-5 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
        <section aria-labelledby="findings-title">
          <h2 id="findings-title" className="mb-2 text-lg font-bold">
            Findings
          </h2>
          <FindingList findings={findings} active={index} onChoose={choose} below={fixes} />
        </section>
        <Sources page={page} active={active} chosen={file} onChoose={setFile} place={place} onStep={step} />
      </div>
      {page.verdict?.resources != null && (
        <StructureSection
          course={course}
          handIn={page.id}
          row={runs ? rowText(cursor.row, page.inputs.length) : page.clocked ? null : shown}
          moment={moment}
          onPlace={(from, line) => {
            setFile(from);
            setPlace({ file: from, line });
          }}
        />
      )}
      {page.verdict?.answers !== undefined && page.verdict.answers.length > 0 && (
        <div className="mt-8">
          <Answers answers={page.verdict.answers} />
        </div>
      )}
      {page.clocked && !page.has_image && hasDesign && <TicksToTry course={course} handIn={page.id} />}
      {(runs || page.has_image) && (
        <div className="mt-8 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[repeat(2,minmax(0,1fr))]">
          {runs && <RowsView page={page} cursor={cursor} />}
          {page.board !== null && (
            <div>
              <BenchPanel
                // A new check makes a new image.
                key={`bench ${page.cell.stale}`}
                board={page.board}
                of={benchOf}
                cursor={runs ? cursor : null}
                loaded={
                  page.files.some((f) => f.kind === "wiring")
                    ? "This design, wired as handed in"
                    : "This design, wired as planned"
                }
              />
              {runs && (
                <RowsToTry course={course} handIn={page.id} cursor={cursor} inputs={page.inputs.length} />
              )}
            </div>
          )}
          {page.clocked && hasDesign && <TicksToTry course={course} handIn={page.id} />}
        </div>
      )}
    </>
  );
}
