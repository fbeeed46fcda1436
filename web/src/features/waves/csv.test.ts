import { expect, it } from "vitest";
import type { Lane } from "@/api/schema";
import { csvOf } from "./TakeWaves";

it("a table of waves has a line for each time at which something changes", () => {
  const lane = (role: Lane["role"], name: string, times: number[], values: string[]): Lane => ({
    role,
    scopes: ["stimulus"],
    name,
    range: "",
    width: values[0]?.length ?? 1,
    literals: [],
    times,
    values,
    differs: [],
  });
  const lanes = [lane("input", "a", [0, 20e6], ["0", "1"]), lane("expected", "q", [0, 2.5e6], ["--", "01"])];
  expect(csvOf(lanes)).toBe("time_ns,stimulus.a,expected q\n0,0,--\n2.5,0,01\n20,1,01\n");
});
