/** What is expected where there are too many inputs for a table; students are not shown the lines. */
export function WideRule({ lines }: { lines: string[] }) {
  return (
    <>
      <p className="text-ink-soft">
        There are too many inputs for a table: hand-ins are proved right for all of them, or shown wrong on
        one.
      </p>
      {lines.length > 0 && (
        <ul className="mt-2 border border-rule bg-sheet px-3 py-2">
          {lines.map((line) => (
            <li key={line} className="mono break-words">
              {line}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
