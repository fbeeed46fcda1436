import type { Proof, RowCount } from "@/api/types";

/** What was counted, and how far the check went, in words. */
export function proofWords(proof: Proof, rows: RowCount): string {
  const of = `${rows.passed.toLocaleString("en")} of ${rows.total.toLocaleString("en")}`;
  switch (proof.method) {
    case "states":
      return proof.kind === "proved"
        ? `${of} states and inputs right, every state that can be reached tried`
        : `${of} states and inputs right`;
    case "simulation": {
      const cycles = `${(proof.cycles ?? 0).toLocaleString("en")} clock cycles`;
      return proof.kind === "proved"
        ? `proved over ${cycles}, after which it repeats`
        : proof.kind === "matched"
          ? `matched for ${cycles}`
          : `${of} right in ${cycles}`;
    }
    case "exhaustive":
      return `${of} rows right, every row tried`;
    case "induction":
      return "proved by induction, for all inputs and for ever";
    case "sat":
      return proof.kind === "proved" ? "proved for every input" : `${of} tried inputs right`;
    default:
      return "nothing was run";
  }
}
