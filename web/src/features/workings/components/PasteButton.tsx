import { useState } from "react";
import type { FieldProblem, FormEdit } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, FILE, Field } from "@/kit/Field";
import { Sheet } from "@/kit/Sheet";
import { FieldFault } from "./FieldFault";

/** Takes a table from a spreadsheet, a CSV file or a PLA file. */
export function PasteButton({
  edit,
  problem,
}: {
  edit: (edit: FormEdit) => void;
  problem: FieldProblem | null;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [sent, setSent] = useState(false);
  const failed = sent && problem?.field === "paste";
  return (
    <>
      <Button onClick={() => setOpen(true)}>Paste a table</Button>
      <Sheet
        open={open}
        onOpenChange={setOpen}
        title="Paste a table"
        lead="From a spreadsheet, a CSV or a PLA file. The first line names the columns; a bar or an empty column stands before the outputs."
      >
        <form
          className="space-y-3"
          onSubmit={(event) => {
            event.preventDefault();
            setSent(true);
            edit({ kind: "paste", text });
          }}
        >
          <Field label="Table">
            <textarea
              className={`${CONTROL} mono h-60 text-sm`}
              spellCheck={false}
              required
              placeholder={"a\tb\tf\n0\t0\t0\n0\t1\t1\n1\t–\t1"}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </Field>
          <Field label="Or open a file">
            <input
              type="file"
              accept=".csv,.tsv,.txt,.pla"
              className={FILE}
              onChange={async (e) => {
                const file = e.target.files?.[0];
                if (file) setText(await file.text());
              }}
            />
          </Field>
          {failed && <FieldFault problem={problem} start="paste" />}
          <p className="flex gap-2">
            <Button type="submit" strength="strong">
              Take it
            </Button>
            {sent && !failed && <span className="self-center text-leaf-ink">Taken; close to see it.</span>}
          </p>
        </form>
      </Sheet>
    </>
  );
}
