import { useSearchParams } from "react-router";
import type { CodeEntry } from "@/api/schema";
import { CONTROL, Field } from "@/kit/Field";
import { Empty } from "@/kit/notes";
import { CodeCard } from "./CodeCard";
import { matching, STAGES } from "./search";

/** The list of finding codes, searchable; the question is in the address. */
export function CodesView({ entries }: { entries: CodeEntry[] }) {
  const [params, setParams] = useSearchParams();
  const code = params.get("code");
  const question = params.get("q") ?? code ?? "";
  const found = code === null ? matching(entries, question) : entries.filter((e) => e.code === code);
  const ask = (q: string) => setParams(q === "" ? {} : { q }, { replace: true });
  return (
    <>
      <div className="max-w-xl">
        <Field
          label="Search"
          hint={`${found.length} of ${entries.length} kinds of finding. Search a code, a word of its message, or a piece of code.`}
        >
          <input className={CONTROL} type="search" value={question} onChange={(e) => ask(e.target.value)} />
        </Field>
      </div>
      {found.length === 0 && <Empty title="No such finding">Try fewer or other words.</Empty>}
      {STAGES.map(([stage, title]) => {
        const here = found.filter((e) => e.stage === stage);
        if (here.length === 0) return null;
        return (
          <section key={stage} aria-labelledby={`stage-${stage}`} className="mt-5">
            <h2 id={`stage-${stage}`} className="text-lg font-bold">
              {title}
            </h2>
            {here.map((entry) => (
              <CodeCard key={entry.code} entry={entry} open={found.length <= 3} />
            ))}
          </section>
        );
      })}
    </>
  );
}
