import { useState } from "react";
import type { Finding, FixInfo } from "@/api/schema";
import { CycleStrip, FindingList, FixPreview, NearMisses, proofWords, StageStrip } from "@/features/verdict";
import { Button } from "@/kit/Button";
import { ErrorNote } from "@/kit/notes";
import { Prose } from "@/kit/Prose";
import type { Tried } from "../hooks/useTry";

/** The stages that a text without wiring goes through. */
const TEXT_STAGES = ["names", "language", "structure", "behaviour"];

interface Props {
  tried: Tried;
  active: number;
  /** False while the text is newer than what is shown. */
  fresh: boolean;
  onChoose: (index: number) => void;
  onFix: (fix: FixInfo) => void;
}

/** What the check says of the text as it stands. */
export function PadFindings({ tried, active, fresh, onChoose, onFix }: Props) {
  const [all, setAll] = useState(false);
  const findings = tried.view?.verdict.findings ?? [];
  const shown = all ? findings : findings.slice(0, 8);
  const fixes = (finding: Finding) =>
    (finding.fixes ?? []).map((fix) => {
      const text = tried.of?.files.find((f) => f.name === fix.file)?.text;
      if (text === undefined) return null;
      return (
        <FixPreview key={fix.label} text={text} fix={fix}>
          <Button disabled={!fresh} onClick={() => onFix(fix)}>
            Apply
          </Button>
        </FixPreview>
      );
    });
  const trace = findings.find((f) => (f.evidence?.trace ?? []).length > 0)?.evidence?.trace ?? [];
  return (
    <section aria-labelledby="pad-findings" className={fresh ? "" : "opacity-80"}>
      <h2 id="pad-findings" className="text-lg font-bold leading-snug" aria-live="polite">
        <Prose text={tried.view?.headline ?? "The check begins with the first pause in typing."} />
      </h2>
      {tried.error !== null && <ErrorNote error={tried.error} />}
      {tried.view !== null && (
        <>
          <p className="mb-2 text-ink-soft">
            {proofWords(tried.view.verdict.proof, tried.view.verdict.rows)}
          </p>
          <StageStrip
            narrow
            stages={tried.view.verdict.stages.filter(
              (s) => tried.of?.wiring != null || TEXT_STAGES.includes(s.stage),
            )}
          />
          {tried.view.verdict.near_misses.length > 0 && <NearMisses list={tried.view.verdict.near_misses} />}
          <div className="mt-3">
            <FindingList findings={shown} active={active} onChoose={onChoose} below={fixes} />
          </div>
          {trace.length > 0 && (
            <div className="mt-4">
              <CycleStrip trace={trace} />
            </div>
          )}
          {findings.length > shown.length && (
            <Button className="mt-2" strength="quiet" onClick={() => setAll(true)}>
              All {findings.length} findings
            </Button>
          )}
        </>
      )}
    </section>
  );
}
