import { expect, test } from "vitest";
import type { PersonLine } from "@/api/schema";
import { found, newPerson, sections, standing } from "./model";

function person(name: string, section: string, more: Partial<PersonLine> = {}): PersonLine {
  const known = { ...newPerson(section), name, sign_in: name.toLowerCase().slice(0, 3) };
  return { id: 1, known, has_password: true, hand_ins: 0, is_ours: true, ...more };
}

test("people are found without their accents, by any of their names, within a section", () => {
  const list = [person("Zoë Ibáñez", "A"), person("Milo Segmentine", "B")];
  expect(found(list, "ibanez", "").map((p) => p.known.name)).toEqual(["Zoë Ibáñez"]);
  expect(found(list, "MIL", "B")).toHaveLength(1);
  expect(found(list, "mil", "A")).toHaveLength(0);
});

test("sections are those of students and those that assistants look after, in counting order", () => {
  const helper = person("Rowan", "");
  helper.known.looks_after = ["Lab 10"];
  expect(sections([person("a", "Lab 2"), helper, person("b", "Lab 2")])).toEqual(["Lab 2", "Lab 10"]);
});

test("who is deactivated or has no password is said", () => {
  const gone = person("a", "A");
  gone.known.active = false;
  expect(standing(gone)).toBe("deactivated");
  expect(standing(person("b", "A", { has_password: false }))).toBe("no password yet");
  expect(standing(person("c", "A"))).toBe("");
});
