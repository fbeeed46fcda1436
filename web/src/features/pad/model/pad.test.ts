import { describe, expect, it } from "vitest";
import type { HandInPage } from "@/api/schema";
import { attemptPad, contents, isSame, nameProblem, padForm, readPad } from "./pad";

const page = {
  files: [
    { name: "m.v", kind: "design", text: "assign y = a\n" },
    { name: "wiring.csv", kind: "wiring", text: "port,part,pin,io_level\n" },
  ],
  given: { "f.sop": "a b" },
  verdict: {
    findings: [
      {
        fixes: [
          { label: "Add `;`", file: "m.v", line: 1, column: 13, end_line: 1, end_column: 13, text: ";" },
        ],
      },
    ],
  },
} as unknown as HandInPage;

describe("a pad", () => {
  it("begins with the files of an attempt, its fix applied and its wiring carried along", () => {
    const pad = attemptPad(page, 0, 0);
    expect(pad.files).toEqual([{ name: "m.v", text: "assign y = a;\n" }]);
    expect(pad.wiring?.name).toBe("wiring.csv");
    expect(pad.answers).toEqual({ "f.sop": "a b" });
  });

  it("leaves the files as they were when no fix is asked for", () => {
    expect(attemptPad(page, null, null).files[0]?.text).toBe("assign y = a\n");
  });

  it("is not read from what another program left", () => {
    expect(readPad("{")).toBeNull();
    expect(readPad('{"files":[]}')).toBeNull();
    expect(readPad('{"files":[{"name":"m.v"}]}')).toBeNull();
    expect(readPad('{"files":[{"name":"m.v","text":""}],"wiring":null,"answers":null}')).toEqual({
      files: [{ name: "m.v", text: "" }],
      wiring: null,
      answers: {},
    });
  });

  it("is handed in with its answers, those that are typed", () => {
    const pad = {
      files: [{ name: "m.v", text: "" }],
      wiring: null,
      answers: { "f.sop": 'a "b"', "f.pos": " " },
    };
    expect(padForm(pad, 7).get("answers")).toBe('[answers]\n"f.sop" = "a \\"b\\""\n');
    expect(padForm(pad, 7).get("student")).toBe("7");
    expect(isSame(pad, { ...pad, answers: { "f.sop": 'a "b"' } })).toBe(true);
    expect(isSame(pad, { ...pad, answers: {} })).toBe(false);
    expect(contents(pad, 2, true)).toBe("m.v; 1 of 2 prepared answers; no wiring");
    expect(contents({ ...pad, wiring: { name: "wiring.csv", text: "" } }, 0, true)).toBe("m.v; wiring.csv");
  });

  it("tells names that can't be a file's", () => {
    expect(nameProblem("adder.v", [])).toBeNull();
    expect(nameProblem("adder", [])).toContain(".v");
    expect(nameProblem("../adder.v", [])).toContain("letters");
    expect(nameProblem("m.v", [{ name: "m.v", text: "" }])).toContain("Another");
  });
});
