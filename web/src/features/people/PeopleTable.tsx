import type { PersonLine } from "@/api/schema";
import { standing } from "./model";

interface Props {
  people: PersonLine[];
  chosen: Set<number>;
  /** An instructor may open a person. */
  canEdit: boolean;
  onChoose: (ids: number[], on: boolean) => void;
  onOpen: (person: PersonLine) => void;
}

function Row({ person, chosen, canEdit, onChoose, onOpen }: Omit<Props, "people"> & { person: PersonLine }) {
  const { known } = person;
  const where = known.role === "assistant" ? known.looks_after.join(", ") || "all" : known.section;
  return (
    <tr className="border-b border-rule hover:bg-tint">
      <td className="py-1.5 pl-2">
        <input
          type="checkbox"
          aria-label={`Choose ${known.name}`}
          checked={chosen.has(person.id)}
          onChange={(e) => onChoose([person.id], e.target.checked)}
        />
      </td>
      <td className="py-1.5 pr-3">
        {canEdit ? (
          <button type="button" className="text-left underline" onClick={() => onOpen(person)}>
            {known.name}
          </button>
        ) : (
          known.name
        )}
      </td>
      <td className="mono pr-3">{known.sign_in}</td>
      <td className="mono hidden pr-3 sm:table-cell">{known.number}</td>
      <td className="pr-3">{where}</td>
      <td className="hidden pr-3 sm:table-cell">{known.role}</td>
      <td className="mono hidden pr-3 text-right sm:table-cell">{person.hand_ins > 0 && person.hand_ins}</td>
      <td className="pr-2 text-ink-soft">{standing(person)}</td>
    </tr>
  );
}

/** The people of a course, staff first. */
export function PeopleTable(props: Props) {
  const { people, chosen, onChoose } = props;
  const all = people.length > 0 && people.every((p) => chosen.has(p.id));
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="w-full text-left">
        <thead className="ledger text-sm text-ink-soft">
          <tr>
            <th scope="col" className="w-8 pl-2">
              <input
                type="checkbox"
                aria-label="Choose all that are shown"
                checked={all}
                onChange={(e) =>
                  onChoose(
                    people.map((p) => p.id),
                    e.target.checked,
                  )
                }
              />
            </th>
            <th scope="col">Name</th>
            <th scope="col">Sign-in name</th>
            <th scope="col" className="hidden sm:table-cell">
              Number
            </th>
            <th scope="col">Section</th>
            <th scope="col" className="hidden sm:table-cell">
              Role
            </th>
            <th scope="col" className="hidden pr-3 text-right sm:table-cell">
              Hand-ins
            </th>
            <th scope="col">Standing</th>
          </tr>
        </thead>
        <tbody>
          {people.map((person) => (
            <Row key={person.id} {...props} person={person} />
          ))}
        </tbody>
      </table>
    </div>
  );
}
