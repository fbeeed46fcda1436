import { Prose } from "@/kit/Prose";

/** What a hand-in has to keep to beside the behaviour. */
export function Rules({ list }: { list: string[] }) {
  if (list.length === 0) {
    return null;
  }
  return (
    <section aria-labelledby="rules-title" className="mt-4">
      <h2 id="rules-title" className="text-lg font-bold">
        Rules
      </h2>
      <ul className="mt-1 list-inside list-disc">
        {list.map((rule) => (
          <li key={rule}>
            <Prose text={rule} />
          </li>
        ))}
      </ul>
    </section>
  );
}
