import { expect, test } from "vitest";
import { proofWords } from "./proof";

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
