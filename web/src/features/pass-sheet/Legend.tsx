import { StateMark } from "@/kit/StateMark";

const KINDS: [string, string, boolean, boolean][] = [
  ["passed", "passed", false, false],
  ["partly", "partly, with rows right", false, false],
  ["failed", "failed", false, false],
  ["cannot_tell", "can't tell", false, false],
  ["waiting", "waiting", false, false],
  ["passed", "stale", true, false],
  ["passed", "signed off", false, true],
];

/** What the marks mean. */
export function Legend() {
  return (
    <ul className="mt-3 flex flex-wrap gap-x-5 gap-y-1 text-sm text-ink-soft" aria-label="Marks">
      {KINDS.map(([state, words, stale, signed]) => (
        <li key={words} className="flex items-center gap-1.5">
          <StateMark mark={{ state, passed: 2, total: 4, stale, signed }} size={18} />
          {words}
        </li>
      ))}
      <li className="flex items-center gap-1.5">
        <span aria-hidden="true">—</span> nothing yet
      </li>
    </ul>
  );
}
