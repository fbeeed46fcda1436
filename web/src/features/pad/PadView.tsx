import { useMemo, useState } from "react";
import type { ExercisePage, FixInfo } from "@/api/schema";
import { AnswerFields } from "@/features/hand-in";
import { applyFix, markOf } from "@/features/verdict";
import { Button } from "@/kit/Button";
import { useCommands } from "@/kit/commands";
import { CodeEditor, languageOf } from "@/kit/editor";
import { Sheet } from "@/kit/Sheet";
import { say } from "@/kit/toast";
import { PadFindings } from "./components/PadFindings";
import { PadHandIn } from "./components/PadHandIn";
import { PadRun } from "./components/PadRun";
import { PadTabs } from "./components/PadTabs";
import { PadWiring } from "./components/PadWiring";
import { usePad } from "./hooks/usePad";
import { useTry } from "./hooks/useTry";
import { isSame, type KeptPad, type Pad, type PadText, starterPad } from "./model/pad";

interface Props {
  course: number;
  page: ExercisePage;
  staff: boolean;
  /** Under what this browser remembers the pad. */
  remember: string;
  /** An attempt to go on from, and the address that says so. */
  from: Pad | null;
  origin: string;
  student: number | null;
}

/** A place to write a design against an exercise; it is checked as it is typed. */
export function PadView({ course, page, staff, remember, from, origin, student }: Props) {
  useCommands([
    { title: "Go to the next finding", group: "Text", keys: "Alt+N" },
    { title: "Go to the previous finding", group: "Text", keys: "Alt+P" },
    { title: "Leave the text", group: "Text", keys: "Escape, Tab" },
  ]);
  const { pad, change } = usePad(remember, { fresh: starterPad(page, "verilog"), from, origin });
  const [anew, setAnew] = useState<"verilog" | "vhdl" | null>(null);
  const [index, setIndex] = useState(0);
  const [active, setActive] = useState(0);
  const tried = useTry(course, page.id, pad);
  const file = pad.files[Math.min(index, pad.files.length - 1)] ?? { name: "design.v", text: "" };
  const findings = tried.view?.verdict.findings ?? [];
  const here = useMemo(
    () => (tried.view?.verdict.findings ?? []).filter((f) => f.file === file.name && f.line !== null),
    [tried.view, file.name],
  );
  const marks = useMemo(() => here.map(markOf), [here]);
  const chosen = findings[active];
  const place = chosen === undefined ? -1 : here.indexOf(chosen);
  const put = (files: PadText[]) => change({ ...pad, files });
  const edit = (text: string) => put(pad.files.map((f) => (f.name === file.name ? { ...f, text } : f)));
  const choose = (next: number) => {
    setActive(next);
    const at = pad.files.findIndex((f) => f.name === findings[next]?.file);
    if (at >= 0) setIndex(at);
  };
  const fix = (info: FixInfo) =>
    put(pad.files.map((f) => (f.name === info.file ? { ...f, text: applyFix(f.text, info) } : f)));
  const replace = (next: KeptPad, what: string) => {
    change(next);
    setIndex(0);
    setAnew(null);
    say(what, () => change(pad));
  };
  const begin = (language: "verilog" | "vhdl") =>
    replace(
      { ...pad, files: starterPad(page, language).files },
      "The pad begins anew; wiring and answers stay.",
    );
  const ask = (language: "verilog" | "vhdl") => {
    const starters = (["verilog", "vhdl"] as const).map((l) => starterPad(page, l));
    const isUntouched = starters.some((s) => isSame({ ...pad, wiring: null, answers: {} }, s));
    if (isUntouched) begin(language);
    else setAnew(language);
  };
  return (
    <>
      {pad.before !== undefined && (
        <p className="mt-3 flex flex-wrap items-center gap-3 border-l-4 border-amber bg-tint px-3 py-2">
          What was on the pad before is put aside.
          <Button
            onClick={() => {
              const { before, ...now } = pad;
              replace({ ...(before ?? now), origin, before: now }, "What was on the pad before is back.");
            }}
          >
            Bring it back
          </Button>
        </p>
      )}
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)] lg:grid-rows-[auto_1fr]">
        <section aria-label="Text">
          <PadTabs
            files={pad.files}
            index={index}
            onChoose={setIndex}
            onAdd={(name) => {
              put([...pad.files, { name, text: "" }]);
              setIndex(pad.files.length);
            }}
            onRename={(name) => put(pad.files.map((f) => (f === file ? { ...f, name } : f)))}
            onRemove={() => {
              put(pad.files.filter((f) => f !== file));
              setIndex(0);
            }}
          />
          <CodeEditor
            key={file.name}
            text={file.text}
            language={languageOf(file.name)}
            label={`Text of ${file.name}`}
            marks={marks}
            active={place < 0 ? null : place}
            onChange={edit}
            onStep={(by) => choose(Math.min(Math.max(active + by, 0), Math.max(findings.length - 1, 0)))}
            maxHeight="34rem"
          />
          <p className="mt-1 text-sm text-ink-soft">
            Alt+N and Alt+P go to the next and the previous finding. Escape and then Tab leave the text.
          </p>
          <div className="mt-3 flex flex-wrap items-center justify-between gap-3">
            <div className="flex flex-wrap gap-2">
              <Button onClick={() => ask("verilog")}>Begin anew in Verilog</Button>
              <Button onClick={() => ask("vhdl")}>Begin anew in VHDL</Button>
            </div>
          </div>
        </section>
        <div className="lg:row-span-2">
          <PadFindings tried={tried} active={active} fresh={tried.of === pad} onChoose={choose} onFix={fix} />
        </div>
        <div className="space-y-6">
          <AnswerFields
            questions={page.answers}
            answers={pad.answers}
            onChange={(answers) => change({ ...pad, answers })}
            read={tried.view?.verdict.answers ?? []}
          />
          <PadWiring page={page} wiring={pad.wiring} onChange={(wiring) => change({ ...pad, wiring })} />
          <PadHandIn
            course={course}
            exercise={page.id}
            pad={pad}
            students={page.students}
            page={page}
            staff={staff}
            student={student}
          />
        </div>
      </div>
      {anew !== null && (
        <Sheet
          open
          onOpenChange={() => setAnew(null)}
          title="Begin anew"
          lead="The files on the pad go and an empty design takes their place. Undo brings them back."
        >
          <Button className="self-start" strength="strong" onClick={() => begin(anew)}>
            Begin anew in {anew === "vhdl" ? "VHDL" : "Verilog"}
          </Button>
        </Sheet>
      )}
      <PadRun course={course} exercise={page.id} files={pad.files} staff={staff} />
    </>
  );
}
