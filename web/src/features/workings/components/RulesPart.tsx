import { FORM_WORDS, RULE_EXAMPLES, RULE_NAMES, RULE_WORDS } from "@/api/lists";
import type { PartsForm } from "@/api/schema";
import { Button } from "@/kit/Button";
import { CONTROL, Field } from "@/kit/Field";
import type { PartsProps } from "./Clock";
import { FieldFault } from "./FieldFault";

const LANGUAGES = [
  { value: "verilog", label: "Verilog" },
  { value: "vhdl", label: "VHDL" },
];

/** A rule as it is said: `no +` is what students read. */
function said(word: string): string {
  const at = RULE_WORDS.indexOf(word);
  return (RULE_NAMES[at] ?? word.replace("instance:", "instance of ")).replaceAll("`", "");
}

/** Rules that are set, each with what it looks at and a design that breaks it. */
function Explained({ rules }: { rules: { rule: string; said: string }[] }) {
  const known = rules.flatMap(({ rule, said: words }) => {
    const example = RULE_EXAMPLES.find((e) => e.rule === rule);
    return example === undefined ? [] : [{ ...example, words }];
  });
  if (known.length === 0) return null;
  return (
    <details>
      <summary className="cursor-pointer font-medium">What these rules mean, with what breaks them</summary>
      <dl className="mt-1 grid gap-x-6 gap-y-3 sm:grid-cols-2">
        {known.map(({ rule, words, meaning, code }) => (
          <div key={rule}>
            <dt className="font-medium">{words}</dt>
            <dd className="text-sm">
              {meaning.replaceAll("`", "")}
              <pre className="mono mt-1 whitespace-pre-wrap border-l-2 border-rust bg-tint px-2 py-1 text-xs">
                {code}
              </pre>
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

interface WordsProps {
  label: string;
  words: string[];
  onChange: (words: string[]) => void;
}

function Words({ label, words, onChange }: WordsProps) {
  return (
    <div>
      <Field label={label}>
        <select
          className={CONTROL}
          value=""
          onChange={(e) => {
            const name = e.target.value === "instance:" ? window.prompt("Name of the unit") : "";
            if (name !== null) onChange([...words, `${e.target.value}${name}`]);
          }}
        >
          <option value="">Add…</option>
          {RULE_WORDS.filter((w) => !words.includes(w)).map((word) => (
            <option key={word} value={word}>
              {said(word)}
            </option>
          ))}
          <option value="instance:">an instance of a unit…</option>
        </select>
      </Field>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {words.map((word) => (
          <li key={word} className="inline-flex items-center gap-1 border border-rule bg-sheet px-2 py-0.5">
            {said(word)}
            <button
              type="button"
              className="px-1 text-ink-soft hover:bg-tint"
              aria-label={`Take out ${said(word)}`}
              onClick={() => onChange(words.filter((w) => w !== word))}
            >
              ✕
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The rules that are set, as the examples call them and as they are said. */
function chosen(rules: PartsForm["rules"]) {
  const limits = (
    [
      ["max_gates", "gates"],
      ["max_literals", "literals"],
      ["max_levels", "levels"],
    ] as const
  )
    .filter(([key]) => rules[key].trim() !== "")
    .map(([key, what]) => ({ rule: key, said: `at most ${rules[key]} ${what}` }));
  const forms = [...new Set(rules.forms.map((f) => f.text))];
  return [
    ...rules.forbid.map((word) => ({ rule: word, said: `no ${said(word)}` })),
    ...rules.require.map((word) => ({ rule: word, said: `with ${said(word)}` })),
    ...limits,
    ...forms.map((form) => ({ rule: `form:${form}`, said: `built as ${form}` })),
  ];
}

interface Props extends PartsProps {
  /** Names of the output bits. */
  bits: string[];
  /** What students read of the rules. */
  sentences: string[];
}

/** What a hand-in has to keep to beside the behaviour. */
export function RulesPart({ draft, problem, readOnly, set, bits, sentences }: Props) {
  const rules = draft.parts.rules;
  const patch = (part: Partial<PartsForm["rules"]>) => set({ rules: { ...rules, ...part } });
  const limit = (key: "max_gates" | "max_literals" | "max_levels", label: string) => (
    <Field label={label}>
      <input
        className={`${CONTROL} mono`}
        inputMode="numeric"
        placeholder="any"
        value={rules[key]}
        onChange={(e) => patch({ [key]: e.target.value })}
      />
    </Field>
  );
  const allowed = (language: string) => rules.languages.length === 0 || rules.languages.includes(language);
  const toggle = (language: string, on: boolean) => {
    const next = LANGUAGES.map((l) => l.value).filter((l) => (l === language ? on : allowed(l)));
    patch({ languages: next.length === LANGUAGES.length ? [] : next });
  };
  return (
    <fieldset disabled={readOnly} className="space-y-3">
      <legend className="sr-only">Rules</legend>
      <div className="flex flex-wrap gap-4">
        {LANGUAGES.map((l) => (
          <label key={l.value} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={allowed(l.value)}
              onChange={(e) => toggle(l.value, e.target.checked)}
            />
            {l.label}
          </label>
        ))}
      </div>
      <div className="grid gap-3 sm:grid-cols-2">
        <Words label="Not allowed" words={rules.forbid} onChange={(forbid) => patch({ forbid })} />
        <Words label="Required" words={rules.require} onChange={(require) => patch({ require })} />
      </div>
      <div className="grid gap-3 sm:grid-cols-3">
        {limit("max_gates", "Gates at most")}
        {limit("max_literals", "Literals at most")}
        {limit("max_levels", "Levels at most")}
      </div>
      {rules.forms.map((form, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines of a form have no key of their own
        <div key={at} className="flex flex-wrap items-center gap-2">
          <select
            aria-label={`Output of form ${at + 1}`}
            className={`${CONTROL} !mt-0 !w-auto`}
            value={form.name}
            onChange={(e) =>
              patch({ forms: rules.forms.map((f, k) => (k === at ? { ...f, name: e.target.value } : f)) })
            }
          >
            {[...new Set([...bits, form.name])].map((bit) => (
              <option key={bit}>{bit}</option>
            ))}
          </select>
          built as
          <select
            aria-label={`Form ${at + 1}`}
            className={`${CONTROL} !mt-0 !w-auto`}
            value={form.text}
            onChange={(e) =>
              patch({ forms: rules.forms.map((f, k) => (k === at ? { ...f, text: e.target.value } : f)) })
            }
          >
            {FORM_WORDS.map((word) => (
              <option key={word}>{word}</option>
            ))}
          </select>
          <Button strength="quiet" onClick={() => patch({ forms: rules.forms.filter((_, k) => k !== at) })}>
            Take out
          </Button>
        </div>
      ))}
      {bits.length > 0 && (
        <Button
          onClick={() =>
            patch({ forms: [...rules.forms, { name: bits[0] ?? "", text: FORM_WORDS[0] ?? "sop" }] })
          }
        >
          + Form of an output
        </Button>
      )}
      <Explained rules={chosen(rules)} />
      <FieldFault problem={problem} start="rules" />
      {sentences.length > 0 && (
        <p className="text-sm text-ink-soft">Students read: {sentences.join(" ").replaceAll("`", "")}</p>
      )}
    </fieldset>
  );
}
