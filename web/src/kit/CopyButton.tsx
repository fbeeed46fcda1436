import { useState } from "react";
import { Button } from "./Button";

/** Puts a text on the clipboard and says so. */
export function CopyButton({ label, text }: { label: string; text: string }) {
  const [said, setSaid] = useState("");
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid("copied");
    } catch {
      setSaid("the browser refused; select the text and copy it");
    }
    setTimeout(() => setSaid(""), 2500);
  };
  return (
    <span className="inline-flex items-center gap-2">
      <Button onClick={copy}>{label}</Button>
      <span role="status" className="text-sm text-leaf-ink">
        {said}
      </span>
    </span>
  );
}
