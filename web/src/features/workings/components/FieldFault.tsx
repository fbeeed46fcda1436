import type { FieldProblem } from "@/api/schema";
import { Prose } from "@/kit/Prose";

/** The sentence of a fault, beside the fields whose keys begin with `start`. */
export function FieldFault({ problem, start }: { problem: FieldProblem | null; start: string }) {
  if (problem === null || !problem.field.startsWith(start) || (start === "" && problem.field !== ""))
    return null;
  return (
    <p role="alert" className="mt-1 border-l-4 border-rust bg-tint px-3 py-1.5 text-rust-ink">
      <Prose text={problem.message} />
    </p>
  );
}
