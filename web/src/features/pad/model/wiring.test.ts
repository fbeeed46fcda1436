import { describe, expect, it } from "vitest";
import type { PartInfo } from "@/api/schema";
import { readWires, writeWires } from "./wiring";

const parts = [
  { label: "S0", pin: "A1" },
  { label: "H0", pin: "B1" },
] as PartInfo[];

describe("a wiring file as a table", () => {
  it("is read by part or by pin, however a spreadsheet wrote it, and written again", () => {
    expect(readWires("port,part\nrun,S0\n\nlamp[0],H0\n", parts)).toEqual({ run: "S0", "lamp[0]": "H0" });
    expect(readWires('\uFEFF"Port";"Pin"\r\nrun;A1\r\n', parts)).toEqual({ run: "S0" });
    expect(readWires("port,part,pin,io_level\nrun,S0,A1,\n", parts)).toEqual({ run: "S0" });
    expect(writeWires({ run: "S0", lamp: "", "x[1]": "H0" })?.text).toBe("port,part\nrun,S0\nx[1],H0\n");
    expect(writeWires({ run: "" })).toBeNull();
  });

  it("is left as it is where a table would lose something of it", () => {
    expect(readWires("part\nS0\n", parts)).toBeNull();
    expect(readWires("port\nrun\n", parts)).toBeNull();
    expect(readWires("port,part,io_level\nrun,S0,1.8\n", parts)).toBeNull();
    expect(readWires("port,part\nrun,S0\nrun,H0\n", parts)).toBeNull();
    expect(readWires("port,pin\nrun,Z9\n", parts)).toBeNull();
    expect(readWires("port,part,pin\nrun,S0,B1\n", parts)).toBeNull();
  });
});
