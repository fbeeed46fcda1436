import type { AttachmentForm } from "@/api/schema";

/** Files with others put beside them; one of a name that is there takes its place and keeps what it is for. */
export function withFiles(known: AttachmentForm[], more: AttachmentForm[]): AttachmentForm[] {
  const same = (a: AttachmentForm, b: AttachmentForm) => a.name.toLowerCase() === b.name.toLowerCase();
  const list = [...known];
  for (const file of more) {
    const at = list.findIndex((f) => same(f, file));
    const before = list[at];
    if (before === undefined) list.push(file);
    else if (file.text === "") list.push({ ...file, name: freeName(list, file.name) });
    else list[at] = { ...before, text: file.text };
  }
  return list;
}

/** `design.v`, `design_2.v` and so on, the first that is not taken. */
function freeName(list: AttachmentForm[], name: string): string {
  const dot = name.lastIndexOf(".");
  const [stem, ending] = dot < 0 ? [name, ""] : [name.slice(0, dot), name.slice(dot)];
  for (let k = 2; ; k++) {
    const free = `${stem}_${k}${ending}`;
    if (!list.some((f) => f.name === free)) return free;
  }
}
