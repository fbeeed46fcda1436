import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Button } from "./Button";
import { FILE, Field } from "./Field";
import { ErrorNote } from "./notes";

interface Props<T> {
  label: string;
  hint: string;
  /** Endings and types that the file chooser offers. */
  accept: string;
  /** Says what a file would do, or does it. */
  send: (file: File, apply: boolean) => Promise<T>;
  preview: (view: T) => ReactNode;
  /** What the button says; null where there is nothing to do. */
  action: (view: T) => string | null;
  nothing: string;
  done: (view: T) => string;
  onDone: () => Promise<void>;
  onClose: () => void;
}

/** A file of which is said what it would do before it is done. */
export function LookFirst<T>({ label, hint, accept, send, preview, action, nothing, done, ...on }: Props<T>) {
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({ mutationFn: (chosen: File) => send(chosen, false) });
  const apply = useMutation({ mutationFn: (chosen: File) => send(chosen, true), onSuccess: on.onDone });
  if (apply.isSuccess) {
    return (
      <>
        <p role="status">{done(apply.data)}</p>
        <Button className="mt-4 self-start" strength="strong" onClick={on.onClose}>
          Close
        </Button>
      </>
    );
  }
  const words = look.isSuccess ? action(look.data) : null;
  return (
    <>
      <Field label={label} hint={hint}>
        <input
          className={FILE}
          type="file"
          accept={accept}
          onChange={(e) => {
            const chosen = e.target.files?.[0] ?? null;
            setFile(chosen);
            if (chosen !== null) look.mutate(chosen);
          }}
        />
      </Field>
      {look.isError && <ErrorNote error={look.error} />}
      {look.isSuccess && preview(look.data)}
      {apply.isError && <ErrorNote error={apply.error} />}
      {file !== null && words !== null && (
        <Button
          className="mt-4 self-start"
          strength="strong"
          disabled={apply.isPending}
          onClick={() => apply.mutate(file)}
        >
          {words}
        </Button>
      )}
      {look.isSuccess && words === null && <p className="mt-3">{nothing}</p>}
    </>
  );
}
