/** How the groups of a cover are told apart: by colour and by the kind of line. */
export interface GroupLook {
  colour: string;
  /** SVG dash pattern; empty for a plain line. */
  dash: string;
  /** CSS border style for the mark beside a term. */
  border: "solid" | "dashed" | "dotted" | "double";
  /** The kind of line in words. */
  words: string;
}

const LOOKS: GroupLook[] = [
  { colour: "var(--rust)", dash: "", border: "solid", words: "solid" },
  { colour: "var(--focus)", dash: "7 4", border: "dashed", words: "dashed" },
  { colour: "var(--leaf)", dash: "2 3.5", border: "dotted", words: "dotted" },
  { colour: "var(--violet)", dash: "11 3 2 3", border: "double", words: "dash and dot" },
  { colour: "var(--magenta)", dash: "14 4", border: "solid", words: "long dashes" },
  { colour: "var(--amber-ink)", dash: "5 3 1.5 3 1.5 3", border: "dashed", words: "dash and two dots" },
];

export function groupLook(index: number): GroupLook {
  return LOOKS[index % LOOKS.length] as GroupLook;
}

/** Names of groups: A to Z, then A2 and so on. */
export function groupName(index: number): string {
  const letter = String.fromCharCode(65 + (index % 26));
  return index < 26 ? letter : `${letter}${Math.floor(index / 26) + 1}`;
}
