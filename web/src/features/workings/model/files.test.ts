import { describe, expect, it } from "vitest";
import { withFiles } from "./files";

const file = (name: string, text: string, purpose = "starter") => ({ name, purpose, text });

describe("files of an exercise", () => {
  it("a file of a name that is there takes its place and keeps what it is for", () => {
    const list = withFiles([file("ref.v", "old", "reference")], [file("REF.v", "new"), file("b.vhd", "b")]);
    expect(list).toEqual([file("ref.v", "new", "reference"), file("b.vhd", "b")]);
  });

  it("an empty file takes a free name and leaves the others alone", () => {
    const once = withFiles([file("design.v", "kept")], [file("design.v", "")]);
    expect(once.map((f) => f.name)).toEqual(["design.v", "design_2.v"]);
    expect(withFiles(once, [file("design.v", "")]).map((f) => f.name)[2]).toBe("design_3.v");
  });
});
