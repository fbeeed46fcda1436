/** Lines to write on, with what belongs on them. */
export function Blank({ label, lines = 1 }: { label: string; lines?: number }) {
  return (
    <div className="mt-3 break-inside-avoid">
      <p>{label}</p>
      {Array.from({ length: lines }, (_, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: empty lines
        <div key={i} className="h-8 border-b border-rule-strong" />
      ))}
    </div>
  );
}
