import type { StateForm, WayForm } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

const CELL = `${CONTROL} mono !mt-0`;

function Ways({
  state,
  names,
  onChange,
}: {
  state: StateForm;
  names: string[];
  onChange: (ways: WayForm[]) => void;
}) {
  const change = (at: number, part: Partial<WayForm>) =>
    onChange(state.ways.map((w, k) => (k === at ? { ...w, ...part } : w)));
  return (
    <div className="space-y-1">
      {state.ways.map((way, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: ways are told apart by their order
        <div key={at} className="flex flex-wrap items-center gap-1">
          <input
            aria-label={`Condition ${at + 1} of ${state.name}`}
            className={`${CELL} !w-28`}
            placeholder="always"
            value={way.when}
            onChange={(e) => change(at, { when: e.target.value })}
          />
          <span aria-hidden="true">→</span>
          <input
            aria-label={`Next state ${at + 1} of ${state.name}`}
            className={`${CELL} !w-20`}
            list="state-names"
            value={way.to}
            onChange={(e) => change(at, { to: e.target.value })}
          />
          <input
            aria-label={`Outputs on way ${at + 1} of ${state.name}`}
            className={`${CELL} !w-24`}
            title="Outputs that count on this way instead of the state's"
            placeholder="as state"
            value={way.outputs}
            onChange={(e) => change(at, { outputs: e.target.value })}
          />
          <Button
            strength="quiet"
            aria-label={`Take out way ${at + 1} of ${state.name}`}
            onClick={() => onChange(state.ways.filter((_, k) => k !== at))}
          >
            ✕
          </Button>
        </div>
      ))}
      <Button
        strength="quiet"
        onClick={() => onChange([...state.ways, { when: "", to: names[0] ?? "", outputs: "" }])}
      >
        + Way
      </Button>
    </div>
  );
}

/** States with their outputs and ways, as a grid. */
export function States({ draft, problem, set }: Omit<PartsProps, "readOnly">) {
  const { states, initial } = draft.parts;
  const names = states.map((s) => s.name);
  const change = (at: number, part: Partial<StateForm>) =>
    set({ states: states.map((s, k) => (k === at ? { ...s, ...part } : s)) });
  const blank = draft.ports
    .filter((p) => p.dir === "out")
    .map((p) => `${p.name}=0`)
    .join(" ");
  return (
    <div className="space-y-3">
      <datalist id="state-names">
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      <div className="overflow-x-auto">
        <table className="w-full text-left">
          <thead className="text-sm text-ink-soft">
            <tr>
              <th scope="col">State</th>
              <th scope="col">Outputs</th>
              <th scope="col">Ways: the first condition that holds is taken</th>
            </tr>
          </thead>
          <tbody>
            {states.map((state, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: states are renamed while they are typed
              <tr key={at} className="border-t border-rule align-top">
                <td className="py-1.5 pr-2">
                  <input
                    aria-label={`Name of state ${at + 1}`}
                    className={`${CELL} !w-24`}
                    value={state.name}
                    onChange={(e) => change(at, { name: e.target.value })}
                  />
                </td>
                <td className="py-1.5 pr-2">
                  <input
                    aria-label={`Outputs of ${state.name}`}
                    className={`${CELL} min-w-32`}
                    value={state.outputs}
                    onChange={(e) => change(at, { outputs: e.target.value })}
                  />
                </td>
                <td className="py-1.5">
                  <Ways state={state} names={names} onChange={(ways) => change(at, { ways })} />
                </td>
                <td className="py-1.5">
                  <Button
                    strength="quiet"
                    aria-label={`Take out state ${state.name}`}
                    onClick={() => set({ states: states.filter((_, k) => k !== at) })}
                  >
                    ✕
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <Button
          onClick={() =>
            set({ states: [...states, { name: `s${states.length}`, outputs: blank, ways: [] }] })
          }
        >
          + State
        </Button>
        <label className="flex items-center gap-2">
          Begins in
          <select
            className={`${CONTROL} !mt-0 !w-auto`}
            value={initial}
            onChange={(e) => set({ initial: e.target.value })}
          >
            <option value="">the first one</option>
            {names.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      </div>
      <p className="text-sm text-ink-soft">
        Outputs such as <code>valve=0 lamps=0-1</code>, a dash for a don't-care; conditions such as{" "}
        <code>start &amp; !stop</code>. Where none holds the machine stays.
      </p>
      <FieldFault problem={problem} start="states" />
    </div>
  );
}
