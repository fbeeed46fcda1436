import { useState } from "react";

interface Props {
  label: string;
  name: string;
  invalid: boolean;
  className: string;
  onRename: (name: string) => void;
}

/** A name that shows what is typed at once, while what refers to it follows a moment later. */
export function NameInput({ label, name, invalid, className, onRename }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      className={className}
      aria-label={label}
      aria-invalid={invalid}
      spellCheck={false}
      autoComplete="off"
      value={typed ?? name}
      onChange={(e) => {
        setTyped(e.target.value);
        onRename(e.target.value);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
