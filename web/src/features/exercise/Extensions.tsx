import type { ExtensionAsk, StudentRef } from "@/api/schema";
import { Button } from "@/kit/Button";
import { daysLater } from "@/kit/dates";
import { CONTROL } from "@/kit/Field";

interface Props {
  list: ExtensionAsk[];
  /** When it is due for the others, on the clock of the course. */
  due: string;
  students: StudentRef[];
  onChange: (list: ExtensionAsk[]) => void;
}

/** Whom an extension is for, as one value of a list. */
function target(extension: ExtensionAsk): string {
  return extension.person === null ? `section ${extension.section}` : `person ${extension.person}`;
}

/** More time for one person or one section. */
export function Extensions({ list, due, students, onChange }: Props) {
  const sections = [...new Set(students.map((s) => s.section).filter((s) => s !== ""))].sort();
  const change = (at: number, patch: Partial<ExtensionAsk>) =>
    onChange(list.map((e, k) => (k === at ? { ...e, ...patch } : e)));
  const take = (value: string): Partial<ExtensionAsk> =>
    value.startsWith("person ")
      ? { person: Number(value.slice(7)), section: "" }
      : { person: null, section: value.slice(8) };
  const first = sections[0] !== undefined ? `section ${sections[0]}` : `person ${students[0]?.id ?? 0}`;
  return (
    <fieldset>
      <legend className="font-medium">Extensions</legend>
      {list.map((extension, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of a form have no key of their own
        <div key={at} className="mt-1 flex flex-wrap items-center gap-2">
          <select
            aria-label={`Extension ${at + 1} for`}
            className={`${CONTROL} !mt-0 !w-auto max-w-64`}
            value={target(extension)}
            onChange={(e) => change(at, take(e.target.value))}
          >
            {sections.map((s) => (
              <option key={s} value={`section ${s}`}>
                Section {s}
              </option>
            ))}
            {students.map((s) => (
              <option key={s.id} value={`person ${s.id}`}>
                {s.name}
              </option>
            ))}
          </select>
          <input
            aria-label={`Extension ${at + 1} until`}
            className={`${CONTROL} !mt-0 !w-auto`}
            type="datetime-local"
            value={extension.due}
            onChange={(e) => change(at, { due: e.target.value === "" ? due : e.target.value })}
          />
          <Button strength="quiet" onClick={() => onChange(list.filter((_, k) => k !== at))}>
            Take out
          </Button>
        </div>
      ))}
      {students.length > 0 && (
        <Button
          className="mt-2"
          onClick={() =>
            onChange([...list, { person: null, section: "", ...take(first), due: daysLater(due, 7) }])
          }
        >
          Add an extension
        </Button>
      )}
    </fieldset>
  );
}
