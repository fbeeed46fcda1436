import { type DragEvent, useState } from "react";
import { Button } from "@/kit/Button";
import { CONTROL, FILE, Field } from "@/kit/Field";
import { type Chosen, withFiles } from "./model";

interface Props {
  files: Chosen[];
  onChange: (files: Chosen[]) => void;
}

/** Files dropped, chosen or pasted. */
export function FileChooser({ files, onChange }: Props) {
  const [over, setOver] = useState(false);
  const [pasted, setPasted] = useState("");
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    onChange(withFiles(files, event.dataTransfer.files));
  };
  const addPasted = () => {
    const isWiring = /^\s*port\s*[,;]/i.test(pasted);
    const isVhdl = /^\s*(--|library\b|use\b|entity\b|package\b|architecture\b)/i.test(pasted);
    const name = isWiring ? "wiring.csv" : isVhdl ? "design.vhd" : "design.v";
    onChange(withFiles(files, [new File([pasted], name, { type: "text/plain" })]));
    setPasted("");
  };
  return (
    <div className="space-y-3">
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping is an extra; the file button does the same */}
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`border-2 border-dashed px-4 py-4 ${over ? "border-amber bg-amber-wash" : "border-rule-strong"}`}
      >
        <Field label="Design files (.v, .vhd) and wiring (.csv)" hint="Drop them here, or choose them.">
          <input
            type="file"
            multiple
            accept=".v,.sv,.vhd,.vhdl,.csv"
            className={FILE}
            onChange={(e) => {
              onChange(withFiles(files, e.target.files ?? []));
              e.target.value = "";
            }}
          />
        </Field>
      </div>
      <Field label="Or paste one">
        <textarea
          className={`${CONTROL} mono h-24 text-sm`}
          spellCheck={false}
          value={pasted}
          onChange={(e) => setPasted(e.target.value)}
        />
      </Field>
      {pasted.trim() !== "" && <Button onClick={addPasted}>Add the pasted text</Button>}
      {files.length > 0 && (
        <ul className="divide-y divide-rule border-y border-rule" aria-label="Files to hand in">
          {files.map((file) => (
            <li key={file.name} className="flex items-center gap-3 py-1">
              <span className="mono grow truncate">{file.name}</span>
              <span className="text-sm text-ink-soft">{file.kind}</span>
              <Button
                strength="quiet"
                aria-label={`Remove ${file.name}`}
                onClick={() => onChange(files.filter((f) => f !== file))}
              >
                ✕
              </Button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
