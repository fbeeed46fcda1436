import { clsx } from "clsx";
import type { ButtonHTMLAttributes, Ref } from "react";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** The one thing to do here, or one of several. */
  strength?: "strong" | "plain" | "quiet";
  ref?: Ref<HTMLButtonElement>;
}

const LOOKS = {
  strong: "bg-ink text-paper border-ink hover:bg-ink-soft",
  plain: "bg-sheet text-ink border-rule-strong hover:bg-tint",
  quiet: "bg-transparent text-ink border-transparent hover:bg-tint",
};

export function Button({ strength = "plain", className, type = "button", ...rest }: Props) {
  return (
    <button
      type={type}
      className={clsx(
        "inline-flex items-center gap-2 whitespace-nowrap border px-3 py-1.5 font-medium rounded-sm",
        "disabled:opacity-50 disabled:cursor-not-allowed",
        LOOKS[strength],
        className,
      )}
      {...rest}
    />
  );
}
