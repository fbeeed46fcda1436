import { useQueryClient } from "@tanstack/react-query";
import { sendBundle } from "@/api/client";
import type { BundleView } from "@/api/schema";
import { LookFirst } from "@/kit/LookFirst";
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
  const fresh = (view: BundleView) => view.lines.filter((l) => l.state === "new").length;
  const people = (n: number) => (n === 1 ? "1 student" : `${n} students`);
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Many at once"
      lead="A zip with a folder a student, or files that begin with the sign-in name or the number."
    >
      <LookFirst
        label="Zip"
        hint="Nothing is kept before you have seen whose is what."
        accept=".zip,application/zip"
        send={(file, apply) => sendBundle(course, exercise, file, apply)}
        preview={(view) => <Preview view={view} />}
        action={(view) => (fresh(view) > 0 ? `Hand in for ${people(fresh(view))}` : null)}
        nothing="There is nothing new in it."
        done={(view) =>
          `Handed in for ${people(fresh(view))}. They are checked one after the other; the same zip again adds nothing.`
        }
        onDone={() => queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "start" })}
        onClose={onClose}
      />
    </Sheet>
  );
}
