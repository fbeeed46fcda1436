import { ApiError } from "@/api/client";
import { Button } from "./Button";

/** Something failed: what, and what to do. */
export function ErrorNote({ error, onRetry }: { error: unknown; onRetry?: () => void }) {
  const known = error instanceof ApiError;
  return (
    <div role="alert" className="my-3 border-l-4 border-rust bg-tint px-4 py-3">
      <p className="font-bold text-rust-ink">{known ? error.title : "Something failed in this page"}</p>
      <p>{known ? error.message : "Load the page again; if it stays, tell the instructor."}</p>
      {onRetry !== undefined && (
        <Button className="mt-2" onClick={onRetry}>
          Try again
        </Button>
      )}
    </div>
  );
}

/** A page's place while its data is under way. */
export function Loading({ what }: { what: string }) {
  return (
    <div role="status" className="py-6">
      <span className="sr-only">Loading {what}</span>
      {[92, 74, 83, 61, 88, 70].map((width) => (
        <div key={width} className="my-3 h-4 animate-pulse bg-tint" style={{ width: `${width}%` }} />
      ))}
    </div>
  );
}

/** Nothing here yet, and how to begin. */
export function Empty({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <div className="my-6 border border-dashed border-rule-strong px-6 py-8 text-center">
      <p className="text-lg font-bold">{title}</p>
      <div className="mt-1 text-ink-soft">{children}</div>
    </div>
  );
}
