import { useState } from "react";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import { nameProblem, type PadText } from "../model/pad";

interface Props {
  files: PadText[];
  index: number;
  onChoose: (index: number) => void;
  onAdd: (name: string) => void;
  onRename: (name: string) => void;
  onRemove: () => void;
}

/** The files of the pad; one more can be added, the chosen one renamed or removed. */
export function PadTabs({ files, index, onChoose, onAdd, onRename, onRemove }: Props) {
  const [asking, setAsking] = useState<"add" | "rename" | null>(null);
  const [name, setName] = useState("");
  const others = asking === "rename" ? files.filter((_, i) => i !== index) : files;
  const problem = nameProblem(name, others);
  const ask = (what: "add" | "rename") => {
    setName(what === "rename" ? (files[index]?.name ?? "") : "");
    setAsking(what);
  };
  const done = () => {
    if (problem !== null) return;
    if (asking === "add") onAdd(name);
    else onRename(name);
    setAsking(null);
  };
  return (
    <div className="mb-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <div className="flex flex-wrap gap-x-4" role="group" aria-label="Choose a file">
          {files.map((f, i) => (
            <button
              key={f.name}
              type="button"
              aria-pressed={i === index}
              onClick={() => onChoose(i)}
              className={`mono border-b-2 ${i === index ? "border-ink font-bold" : "border-transparent text-ink-soft hover:border-rule-strong"}`}
            >
              {f.name}
            </button>
          ))}
        </div>
        <span className="grow" />
        <Button strength="quiet" onClick={() => ask("add")}>
          Add a file
        </Button>
        <Button strength="quiet" onClick={() => ask("rename")}>
          Rename
        </Button>
        {files.length > 1 && (
          <Button strength="quiet" onClick={onRemove}>
            Remove
          </Button>
        )}
      </div>
      {asking !== null && (
        <form
          className="mt-1 flex flex-wrap items-baseline gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            done();
          }}
        >
          <label htmlFor="pad-name" className="font-medium">
            {asking === "add" ? "Name of the new file" : "New name"}
          </label>
          <input
            id="pad-name"
            className={`${CONTROL} mono w-56!`}
            value={name}
            onChange={(e) => setName(e.target.value)}
            // biome-ignore lint/a11y/noAutofocus: it was just asked for
            autoFocus
          />
          <Button type="submit" disabled={problem !== null}>
            {asking === "add" ? "Add" : "Rename"}
          </Button>
          <Button strength="quiet" onClick={() => setAsking(null)}>
            Cancel
          </Button>
          {name !== "" && problem !== null && <span className="text-sm text-rust-ink">{problem}</span>}
        </form>
      )}
    </div>
  );
}
