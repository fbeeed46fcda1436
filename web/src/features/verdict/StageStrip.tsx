import type { MarkPart, StageResult } from "@/api/schema";

const NAMES: Record<string, string> = {
  names: "Names",
  language: "Language",
  structure: "Structure",
  behaviour: "Behaviour",
  wiring: "Wiring",
  bench: "Bench",
};
const WORDS: Record<string, string> = { pass: "passes", fail: "fails", skipped: "skipped" };

/** A lamp: lit where the stage passes, dark and crossed where it fails, a dot where it did not run. */
function Sign({ state }: { state: string }) {
  return (
    <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true" className="shrink-0">
      {state === "pass" && <circle cx="8" cy="8" r="5" fill="var(--leaf)" stroke="var(--leaf)" />}
      {state === "fail" && (
        <>
          <circle cx="8" cy="8" r="4.6" fill="none" stroke="var(--rust)" strokeWidth="1.8" />
          <path d="M1.5 12.5l13-9" stroke="var(--rust)" strokeWidth="2.2" />
        </>
      )}
      {state === "skipped" && <circle cx="8" cy="8" r="2" fill="var(--ink-soft)" />}
    </svg>
  );
}

/** `4.5/6`, for a stage that earns marks. */
function Earned({ part }: { part: MarkPart | undefined }) {
  if (part === undefined || part.out_of === 0) return null;
  return (
    <span className="mono ml-auto font-normal">
      <span className={part.earned < part.out_of ? "text-rust-ink" : ""}>{part.earned}</span>
      <span className="text-ink-soft">/{part.out_of}</span>
      <span className="sr-only"> marks</span>
    </span>
  );
}

interface Props {
  stages: StageResult[];
  marks?: MarkPart[];
  /** Beside something else: two lines where there are six. */
  narrow?: boolean;
}

/** The six stages in order, with their marks; a stage that did not run says why. */
export function StageStrip({ stages, marks = [], narrow = false }: Props) {
  return (
    <ol
      className={`mt-3 grid grid-cols-2 gap-px border border-rule bg-rule ${stages.length > 4 ? `sm:grid-cols-3 ${narrow ? "" : "lg:grid-cols-6"}` : ""}`}
      aria-label="Stages"
    >
      {stages.map((stage) => (
        <li key={stage.stage} className="bg-sheet px-2.5 py-1.5">
          <div className="flex items-center gap-1.5 font-bold">
            <Sign state={stage.state} />
            {NAMES[stage.stage] ?? stage.stage}
            <span className="sr-only">{WORDS[stage.state] ?? stage.state}</span>
            <Earned part={marks.find((m) => m.what === stage.stage)} />
          </div>
          {stage.reason !== "" && <p className="text-sm leading-snug text-ink-soft">{stage.reason}</p>}
          {marks
            .filter((m) => m.what === stage.stage && m.why !== "" && stage.reason === "")
            .map((m) => (
              <p key={m.what} className="text-sm leading-snug text-ink-soft">
                {m.why}
              </p>
            ))}
        </li>
      ))}
    </ol>
  );
}
