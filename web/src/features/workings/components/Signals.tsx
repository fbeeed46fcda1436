import { ArrowDown, ArrowUp, Plus, X } from "lucide-react";
import type { ExerciseForm, FieldProblem, FormEdit, PortForm, PortInfo } from "@/api/schema";
import { Button } from "@/kit/Button";
import { Choice } from "@/kit/Choice";
import { FieldFault } from "./FieldFault";
import { NameInput } from "./NameInput";

interface Props {
  draft: ExerciseForm;
  /** Ports as understood; empty while something is wrong. */
  ports: PortInfo[];
  problem: FieldProblem | null;
  readOnly: boolean;
  change: (draft: ExerciseForm) => void;
  edit: (edit: FormEdit) => void;
}

const CONTROL = "mono w-full border border-rule-strong bg-paper px-2 py-1 rounded-sm";

/** A name that is not taken yet. */
function freshName(ports: PortForm[], dir: string): string {
  const letters = dir === "in" ? "abcdeghijk" : "fyzuvw";
  const taken = new Set(ports.map((p) => p.name));
  for (const letter of letters) if (!taken.has(letter)) return letter;
  return `${dir}${ports.length}`;
}

/** The ports of an exercise in table order. */
export function Signals({ draft, ports, problem, readOnly, change, edit }: Props) {
  const set = (list: PortForm[]) => change({ ...draft, ports: list });
  const patch = (at: number, part: Partial<PortForm>) =>
    set(draft.ports.map((port, i) => (i === at ? { ...port, ...part } : port)));
  const move = (at: number, by: number) => {
    const list = [...draft.ports];
    const [port] = list.splice(at, 1);
    if (port !== undefined) list.splice(at + by, 0, port);
    set(list);
  };
  const add = (dir: string) =>
    set([...draft.ports, { name: freshName(draft.ports, dir), dir, range: "", was: "" }]);
  return (
    <fieldset disabled={readOnly}>
      <legend className="sr-only">Signals</legend>
      <ul className="space-y-1.5">
        {draft.ports.map((port, i) => (
          <li
            // biome-ignore lint/suspicious/noArrayIndexKey: a port being renamed keeps its place
            key={i}
            className="grid grid-cols-[minmax(0,9rem)_auto_5.5rem_minmax(0,1fr)_auto] items-center gap-2"
          >
            <NameInput
              className={CONTROL}
              label={`Name of port ${i + 1}`}
              invalid={problem?.field === `port.${i}.name`}
              name={port.name}
              onRename={(name) => edit({ kind: "rename", port: i, name })}
            />
            <Choice
              label={`Direction of ${port.name}`}
              value={port.dir}
              options={[
                { value: "in", label: "in" },
                { value: "out", label: "out" },
              ]}
              onChange={(dir) => patch(i, { dir })}
            />
            <input
              className={CONTROL}
              aria-label={`Range of ${port.name}`}
              aria-invalid={problem?.field === `port.${i}.range`}
              placeholder="3:0"
              spellCheck={false}
              value={port.range}
              onChange={(e) => patch(i, { range: e.target.value })}
            />
            <span className="truncate text-sm text-ink-soft">{bitNote(ports[i])}</span>
            <span className="flex">
              <Button
                strength="quiet"
                className="px-1.5!"
                aria-label={`Move ${port.name} up`}
                disabled={i === 0}
                onClick={() => move(i, -1)}
              >
                <ArrowUp size={15} />
              </Button>
              <Button
                strength="quiet"
                className="px-1.5!"
                aria-label={`Move ${port.name} down`}
                disabled={i + 1 === draft.ports.length}
                onClick={() => move(i, 1)}
              >
                <ArrowDown size={15} />
              </Button>
              <Button
                strength="quiet"
                className="px-1.5!"
                aria-label={`Remove ${port.name}`}
                onClick={() => set(draft.ports.filter((_, k) => k !== i))}
              >
                <X size={15} />
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <FieldFault problem={problem} start="port." />
      {!readOnly && (
        <p className="mt-2 flex gap-2">
          <Button onClick={() => add("in")}>
            <Plus size={15} /> Input
          </Button>
          <Button onClick={() => add("out")}>
            <Plus size={15} /> Output
          </Button>
        </p>
      )}
    </fieldset>
  );
}

/** Which bit is the most significant. */
function bitNote(port: PortInfo | undefined): string {
  if (port === undefined) return "";
  if (port.bits.length === 1) return "1 bit";
  return `${port.bits.length} bits, ${port.bits[0]} most significant`;
}
