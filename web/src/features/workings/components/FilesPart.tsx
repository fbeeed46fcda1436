import { useState } from "react";
import type { AttachmentForm } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, FILE, Field } from "@/kit/Field";
import { withFiles } from "../model/files";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

const PURPOSES = [
  { value: "reference", label: "reference, never shown" },
  { value: "starter", label: "starter, students begin with it" },
  { value: "data", label: "data, designs may read it" },
];

/** Files that are kept with the exercise. */
export function FilesPart({ draft, problem, readOnly, set }: PartsProps) {
  const files = draft.parts.attachments;
  const [open, setOpen] = useState<number | null>(null);
  const keep = (attachments: AttachmentForm[]) => set({ attachments });
  const change = (at: number, part: Partial<AttachmentForm>) =>
    keep(files.map((f, k) => (k === at ? { ...f, ...part } : f)));
  const purpose = draft.behaviour.kind === "reference" ? "reference" : "starter";
  const attach = async (list: FileList | null) => {
    const read = [...(list ?? [])].map(async (f) => ({ name: f.name, purpose, text: await f.text() }));
    keep(withFiles(files, await Promise.all(read)));
  };
  return (
    <fieldset disabled={readOnly} className="min-w-0 space-y-3">
      <legend className="sr-only">Files</legend>
      {files.length === 0 && (
        <p className="text-ink-soft">
          None. Students begin with an empty design made from the signals, unless a starter is attached.
        </p>
      )}
      <ul className="space-y-2">
        {files.map((file, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a name may be typed twice while it is changed
          <li key={at} className="border border-rule bg-sheet p-2">
            <div className="flex flex-wrap items-center gap-2">
              <input
                aria-label={`Name of file ${at + 1}`}
                className={`${CONTROL} mono !mt-0 !w-44`}
                spellCheck={false}
                value={file.name}
                onChange={(e) => change(at, { name: e.target.value })}
              />
              <select
                aria-label={`What ${file.name} is for`}
                className={`${CONTROL} !mt-0 min-w-0 !w-auto grow basis-40`}
                value={file.purpose}
                onChange={(e) => change(at, { purpose: e.target.value })}
              >
                {PURPOSES.map((p) => (
                  <option key={p.value} value={p.value}>
                    {p.label}
                  </option>
                ))}
                {!PURPOSES.some((p) => p.value === file.purpose) && <option>{file.purpose}</option>}
              </select>
              <Button
                strength="quiet"
                aria-expanded={open === at}
                onClick={() => setOpen(open === at ? null : at)}
              >
                {open === at ? "Close" : "Edit"}
              </Button>
              <Button
                strength="quiet"
                aria-label={`Take out ${file.name}`}
                onClick={() => {
                  setOpen(null);
                  keep(files.filter((_, k) => k !== at));
                }}
              >
                Take out
              </Button>
            </div>
            {open === at && (
              <textarea
                aria-label={`Text of ${file.name}`}
                className={`${CONTROL} mono mt-2 h-64 text-sm`}
                spellCheck={false}
                value={file.text}
                onChange={(e) => change(at, { text: e.target.value })}
              />
            )}
          </li>
        ))}
      </ul>
      <FieldFault problem={problem} start="attachments" />
      {!readOnly && (
        <div className="flex flex-wrap items-end gap-4">
          <Field label="Attach files (.v, .sv, .vhd, .vhdl, .mem, .txt)">
            <input
              className={FILE}
              type="file"
              multiple
              accept=".v,.sv,.vhd,.vhdl,.mem,.hex,.txt"
              onChange={(e) => {
                const input = e.target;
                void attach(input.files).then(() => {
                  input.value = "";
                });
              }}
            />
          </Field>
          <Button
            onClick={() => {
              keep(withFiles(files, [{ name: "design.v", purpose, text: "" }]));
              setOpen(files.length);
            }}
          >
            + Empty file
          </Button>
        </div>
      )}
    </fieldset>
  );
}
