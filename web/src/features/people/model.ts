import type { PersonEdit, PersonLine } from "@/api/schema";

/** A person to be added. */
export function newPerson(section: string): PersonEdit {
  return {
    name: "",
    family: "",
    sign_in: "",
    number: "",
    section,
    role: "student",
    looks_after: [],
    active: true,
  };
}

/** The sections of a course, sorted. */
export function sections(people: PersonLine[]): string[] {
  const all = people.flatMap((p) => [p.known.section, ...p.known.looks_after]).filter((s) => s !== "");
  return [...new Set(all)].sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
}

/** A text without accents and capitals, for finding. */
function plain(text: string): string {
  return text.normalize("NFD").replace(/\p{M}/gu, "").toLowerCase();
}

/** Those whose name, sign-in name or number holds a text, in one section. */
export function found(people: PersonLine[], text: string, section: string): PersonLine[] {
  const wanted = plain(text.trim());
  return people.filter(
    ({ known }) =>
      (section === "" || known.section === section || known.looks_after.includes(section)) &&
      [known.name, known.sign_in, known.number].some((t) => plain(t).includes(wanted)),
  );
}

/** What a person has still to do, in words. */
export function standing(person: PersonLine): string {
  if (!person.known.active) return "deactivated";
  if (!person.has_password) return "no password yet";
  return "";
}
