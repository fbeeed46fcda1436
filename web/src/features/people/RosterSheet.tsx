import { useQueryClient } from "@tanstack/react-query";
import { sendRoster } from "@/api/client";
import type { RosterLine, RosterView } from "@/api/schema";
import { LookFirst } from "@/kit/LookFirst";
import { Sheet } from "@/kit/Sheet";

const WORDS: Record<string, string> = {
  new: "new",
  joins: "joins",
  changed: "changed",
  same: "the same",
  left_out: "left out",
};

function counts(view: RosterView): string {
  return Object.entries(WORDS)
    .map(([state, word]) => [view.lines.filter((l) => l.state === state).length, word] as const)
    .filter(([n]) => n > 0)
    .map(([n, word]) => `${n} ${word}`)
    .join(", ");
}

function Line({ line }: { line: RosterLine }) {
  return (
    <tr className="border-b border-rule align-top">
      <td className="mono pr-3 text-right text-ink-soft">{line.line}</td>
      <td className={line.state === "left_out" ? "whitespace-nowrap pr-3 font-bold text-rust-ink" : "pr-3"}>
        {WORDS[line.state] ?? line.state}
      </td>
      <td className="pr-3">{line.name}</td>
      <td className="mono pr-3">{line.sign_in}</td>
      <td className="pr-3">{line.section}</td>
      <td>{line.what}</td>
    </tr>
  );
}

function Preview({ view }: { view: RosterView }) {
  const worth = view.lines.filter((l) => l.state !== "same");
  return (
    <>
      <p className="mt-3 font-bold">{counts(view) || "Nobody stands in it."}</p>
      {worth.length > 0 && (
        <div className="mt-2 max-h-[40vh] overflow-auto border border-rule">
          <table className="w-full text-left text-sm">
            <thead className="sticky top-0 bg-tint">
              <tr>
                {["Line", "State", "Name", "Sign-in name", "Section", "What"].map((h) => (
                  <th key={h} className="pr-3 font-medium" scope="col">
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {worth.map((line) => (
                <Line key={line.line} line={line} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {view.missing.length > 0 && (
        <p className="mt-2 text-sm text-ink-soft">
          Not in the file, and staying: {view.missing.slice(0, 12).join(", ")}
          {view.missing.length > 12 && ` and ${view.missing.length - 12} more`}.
        </p>
      )}
    </>
  );
}

/** A list of people from a file: looked at first, then done. */
export function RosterSheet({ course, onClose }: { course: number; onClose: () => void }) {
  const queries = useQueryClient();
  const again = async () => {
    await queries.invalidateQueries({ queryKey: ["people", course] });
    await queries.invalidateQueries({ queryKey: ["pass-sheet", course] });
  };
  const changes = (view: RosterView) => view.lines.some((l) => ["new", "joins", "changed"].includes(l.state));
  return (
    <Sheet
      open
      onOpenChange={onClose}
      title="Roster"
      lead="A list of students as CSV, as a spreadsheet or your school's system exports it: any order of columns."
    >
      <LookFirst
        label="File"
        hint="The first line names the columns: a sign-in name, e-mail or number, the name in one column or two, the section."
        accept=".csv,.txt,.tsv,text/csv,text/plain"
        send={(file, apply) => sendRoster(course, file, apply)}
        preview={(view) => <Preview view={view} />}
        action={(view) => (changes(view) ? "Bring the course in line" : null)}
        nothing="There is nothing to do."
        done={(view) => `Done: ${counts(view)}. The same file again changes nothing.`}
        onDone={again}
        onClose={onClose}
      />
    </Sheet>
  );
}
