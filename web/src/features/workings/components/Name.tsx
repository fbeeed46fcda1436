import { clsx } from "clsx";

/** The name of a signal as it is set: the index of a vector's bit stands lower. */
export function Name({ text, bar = false }: { text: string; bar?: boolean }) {
  const open = text.indexOf("[");
  const inner =
    open < 0 ? (
      text
    ) : (
      <>
        {text.slice(0, open)}
        <sub className="text-[0.7em]">{text.slice(open + 1, -1)}</sub>
      </>
    );
  return (
    <span className={clsx("whitespace-nowrap", bar && "mx-px border-t-[1.5px] border-current leading-none")}>
      {inner}
    </span>
  );
}
