import { expect, test } from "vitest";
import { budgetWords, proofWords } from "./proof";

test("the words say how strong the outcome is", () => {
  const rows = { passed: 48, total: 48 };
  expect(proofWords({ kind: "proved", method: "states", rows: 48, cycles: null }, rows)).toContain(
    "every state that can be reached",
  );
  expect(proofWords({ kind: "matched", method: "simulation", rows: 48, cycles: 20000 }, rows)).toBe(
    "matched for 20,000 clock cycles",
  );
  expect(proofWords({ kind: "proved", method: "exhaustive", rows: 48, cycles: null }, rows)).toBe(
    "48 of 48 rows right, every row tried",
  );
  const tried = { passed: 4096, total: 4097 };
  expect(proofWords({ kind: "differs", method: "sat", rows: null, cycles: null }, tried)).toBe(
    "4,096 of 4,097 tried inputs right",
  );
  expect(proofWords({ kind: "proved", method: "sat", rows: null, cycles: null }, tried)).toBe(
    "proved for every input",
  );
});

test("a budget is told in words, and nothing where there was none", () => {
  const proof = { kind: "proved", method: "exhaustive", rows: 16, cycles: null } as const;
  expect(budgetWords({ ...proof, budget: { steps: 300_000_000, spent: 12_400 } })).toBe(
    "12,400 of a budget of 300 million steps used",
  );
  expect(budgetWords({ ...proof, budget: { steps: 20_000_000_000, spent: 1_234_567 } })).toBe(
    "1.23 million of a budget of 20 billion steps used",
  );
  expect(budgetWords(proof)).toBeNull();
});
