import type { CoverTerm, HandInPage } from "@/api/schema";
import { rowText } from "@/cursor/useRowCursor";
import { differs } from "@/features/exercise/TruthTable";

/** Does a cube hold a row? */
export function holds(cube: string, bits: string): boolean {
  return [...cube].every((c, i) => c === "-" || c === bits[i]);
}

/** What an output should do on a row, what it does, and why. */
export interface OutputOnRow {
  output: string;
  expected: string;
  actual: string;
  wrong: boolean;
  /** The products that make it 1; empty where it should be 0 or may be either. */
  terms: string[];
}

/** How each output stands on a row. */
export function onRow(
  page: Pick<HandInPage, "inputs" | "expected" | "actual" | "terms">,
  row: number,
): OutputOnRow[] {
  const bits = rowText(row, page.inputs.length);
  return page.expected.map((column, k) => {
    const expected = column.values[row] ?? "";
    const actual = page.actual[k]?.values[row] ?? "";
    const covering = (t: CoverTerm) => t.output === column.name && holds(t.cube, bits);
    const terms = expected === "1" ? page.terms.filter(covering).map((t) => t.text) : [];
    return { output: column.name, expected, actual, wrong: differs(expected, actual), terms };
  });
}

/** The class of the row for an output, in words. */
export function classWords({ expected, terms }: OutputOnRow): string {
  if (expected === "-") return "may be either: a don\u2019t-care";
  if (expected === "0") return "should be 0: no product covers it";
  if (terms.length === 0) return "should be 1";
  return `should be 1: covered by ${terms.join(" and by ")}`;
}
