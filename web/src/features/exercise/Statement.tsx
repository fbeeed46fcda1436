import { Markdown } from "@/kit/Markdown";

/** What the task is, in the instructor's words; nothing where there are none. */
export function Statement({ text }: { text: string }) {
  if (text.trim() === "") return null;
  return (
    <section aria-label="Statement" className="mt-4 break-inside-avoid">
      <Markdown text={text} />
    </section>
  );
}
