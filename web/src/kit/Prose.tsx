/** A sentence of the checker: what stands between backticks is code. */
export function Prose({ text }: { text: string }) {
  const parts = text.split("`");
  return (
    <>
      {parts.map((part, i) =>
        i % 2 === 1 ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of an unchanging sentence
          <code key={i} className="rounded-sm bg-tint px-0.5 text-[0.95em]">
            {part}
          </code>
        ) : (
          part
        ),
      )}
    </>
  );
}
