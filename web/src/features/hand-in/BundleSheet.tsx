import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { sendBundle } from "@/api/client";
import type { BundleView } from "@/api/schema";
import { Button } from "@/kit/Button";
import { FILE, Field } from "@/kit/Field";
import { ErrorNote } from "@/kit/notes";
import { Sheet } from "@/kit/Sheet";

interface Props {
  course: number;
  exercise: number;
  onClose: () => void;
}

const STATES: Record<string, string> = { new: "new", same: "there already", refused: "refused" };

function Preview({ view }: { view: BundleView }) {
  return (
    <>
      <div className="mt-3 max-h-80 overflow-auto border-y border-rule">
        <table className="w-full text-left text-sm">
          <thead>
            <tr>
              <th className="py-1 pr-3">Student</th>
              <th className="py-1 pr-3">Files</th>
              <th className="py-1">Becomes</th>
            </tr>
          </thead>
          <tbody>
            {view.lines.map((line) => (
              <tr key={line.student} className="border-t border-rule align-top">
                <td className="py-1 pr-3">{line.name}</td>
                <td className="mono py-1 pr-3 [overflow-wrap:anywhere]">{line.files.join(", ")}</td>
                <td className={line.state === "refused" ? "py-1 text-rust-ink" : "py-1"}>
                  {STATES[line.state] ?? line.state}
                  {line.attempt !== null && `, attempt ${line.attempt}`}
                  {line.why !== "" && `: ${line.why}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {view.left_over.length > 0 && (
        <section aria-labelledby="left-over" className="mt-3">
          <h3 id="left-over" className="font-bold">
            Left over
          </h3>
          <ul className="text-sm">
            {view.left_over.slice(0, 40).map((rest) => (
              <li key={rest.path}>
                <span className="mono">{rest.path}</span>: {rest.why}
              </li>
            ))}
          </ul>
          {view.left_over.length > 40 && <p className="text-sm">and {view.left_over.length - 40} more.</p>}
        </section>
      )}
      {view.missing.length > 0 && (
        <p className="mt-2 text-sm text-ink-soft">
          Nothing for {view.missing.slice(0, 12).join(", ")}
          {view.missing.length > 12 && ` and ${view.missing.length - 12} more`}.
        </p>
      )}
    </>
  );
}

/** Hand-ins of many students in one zip: looked at first, then kept all together. */
export function BundleSheet({ course, exercise, onClose }: Props) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({ mutationFn: (chosen: File) => sendBundle(course, exercise, chosen, false) });
  const apply = useMutation({
    mutationFn: (chosen: File) => sendBundle(course, exercise, chosen, true),
    onSuccess: () => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "start" }),
  });
  const view = look.data;
  const fresh = (of: BundleView) => of.lines.filter((l) => l.state === "new").length;
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Many at once"
      lead="A zip with a folder a student, or files that begin with the sign-in name or the number."
    >
      {apply.isSuccess ? (
        <>
          <p role="status">
            Kept: {fresh(apply.data)} hand-ins. They are checked one after the other; the same zip again adds
            nothing.
          </p>
          <Button className="mt-4 self-start" strength="strong" onClick={onClose}>
            Close
          </Button>
        </>
      ) : (
        <>
          <Field label="Zip" hint="Nothing is kept before you have seen whose is what.">
            <input
              className={FILE}
              type="file"
              accept=".zip,application/zip"
              onChange={(e) => {
                const chosen = e.target.files?.[0] ?? null;
                setFile(chosen);
                if (chosen !== null) look.mutate(chosen);
              }}
            />
          </Field>
          {look.isError && <ErrorNote error={look.error} />}
          {view !== undefined && !look.isError && <Preview view={view} />}
          {apply.isError && <ErrorNote error={apply.error} />}
          {file !== null && view !== undefined && fresh(view) > 0 && (
            <Button
              className="mt-4 self-start"
              strength="strong"
              disabled={apply.isPending}
              onClick={() => apply.mutate(file)}
            >
              Hand in for {fresh(view)} students
            </Button>
          )}
          {view !== undefined && fresh(view) === 0 && <p className="mt-3">There is nothing new in it.</p>}
        </>
      )}
    </Sheet>
  );
}
