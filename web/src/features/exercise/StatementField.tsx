import { useState } from "react";
import { Choice } from "@/kit/Choice";
import { CONTROL } from "@/kit/Field";
import { Markdown } from "@/kit/Markdown";

interface Props {
  text: string;
  readOnly: boolean;
  /** What is wrong with it. */
  fault: string | null;
  onChange: (text: string) => void;
}

/** The statement as it is written, and as students see it. */
export function StatementField({ text, readOnly, fault, onChange }: Props) {
  const [shows, setShows] = useState<"written" | "seen">(readOnly ? "seen" : "written");
  return (
    <>
      {!readOnly && (
        <Choice
          label="Statement"
          value={shows}
          options={[
            { value: "written", label: "As written" },
            { value: "seen", label: "As students see it" },
          ]}
          onChange={setShows}
        />
      )}
      {shows === "written" ? (
        <>
          <textarea
            aria-label="Statement in Markdown"
            className={`${CONTROL} mt-2 h-36`}
            placeholder="What is to be built, in words; it stands on the exercise's page and on the handout. **Markdown** works."
            value={text}
            onChange={(e) => onChange(e.target.value)}
          />
          {fault !== null && (
            <p role="alert" className="text-rust-ink">
              {fault}
            </p>
          )}
        </>
      ) : (
        <div className="mt-2 min-h-12">
          {text.trim() === "" ? <p className="text-ink-soft">No statement yet.</p> : <Markdown text={text} />}
        </div>
      )}
    </>
  );
}
