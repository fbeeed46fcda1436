import { useMemo, useState } from "react";
import type { ExercisePage, FixInfo } from "@/api/schema";
import { applyFix, markOf } from "@/features/verdict";
import { Button } from "@/kit/Button";
import { useCommands } from "@/kit/commands";
import { CodeEditor, languageOf } from "@/kit/editor";
import { PadFindings } from "./components/PadFindings";
import { PadHandIn } from "./components/PadHandIn";
import { PadRun } from "./components/PadRun";
import { PadTabs } from "./components/PadTabs";
import { usePad } from "./hooks/usePad";
import { useTry } from "./hooks/useTry";
import { type Pad, type PadText, starterPad } from "./model/pad";

interface Props {
  course: number;
  page: ExercisePage;
  staff: boolean;
  /** Under what this browser remembers the pad. */
  remember: string;
  /** An attempt to go on from. */
  from: Pad | null;
  student: number | null;
}

/** A place to write a design against an exercise; it is checked as it is typed. */
export function PadView({ course, page, staff, remember, from, student }: Props) {
  useCommands([
    { title: "Go to the next finding", group: "Text", keys: "Alt+N" },
    { title: "Go to the previous finding", group: "Text", keys: "Alt+P" },
    { title: "Leave the text", group: "Text", keys: "Escape, Tab" },
  ]);
  const { pad, change } = usePad(remember, starterPad(page, "verilog"), from);
  const [index, setIndex] = useState(0);
  const [active, setActive] = useState(0);
  const tried = useTry(course, page.id, pad.files);
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
  const begin = (language: "verilog" | "vhdl") => {
    change({ ...starterPad(page, language), wiring: pad.wiring, answers: pad.answers });
    setIndex(0);
  };
  return (
    <>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
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
            {pad.wiring !== null && ` The wiring of the attempt, ${pad.wiring.name}, goes along.`}
          </p>
          <div className="mt-3 flex flex-wrap items-center justify-between gap-3">
            <div className="flex flex-wrap gap-2">
              <Button onClick={() => begin("verilog")}>Begin anew in Verilog</Button>
              <Button onClick={() => begin("vhdl")}>Begin anew in VHDL</Button>
            </div>
            <PadHandIn
              course={course}
              exercise={page.id}
              pad={pad}
              students={page.students}
              staff={staff}
              student={student}
            />
          </div>
        </section>
        <PadFindings
          tried={tried}
          active={active}
          fresh={tried.of === pad.files}
          onChoose={choose}
          onFix={fix}
        />
      </div>
      <PadRun course={course} exercise={page.id} files={pad.files} staff={staff} />
    </>
  );
}
