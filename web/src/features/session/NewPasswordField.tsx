import { CONTROL, Field } from "@/kit/Field";

interface Props {
  label: string;
  /** What else follows from a new one. */
  note?: string;
  value: string;
  onChange: (value: string) => void;
}

/** A password that is chosen anew. */
export function NewPasswordField({ label, note, value, onChange }: Props) {
  return (
    <Field
      label={label}
      hint={note === undefined ? "Ten characters at least." : `Ten characters at least. ${note}`}
    >
      <input
        className={CONTROL}
        type="password"
        autoComplete="new-password"
        minLength={10}
        required
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    </Field>
  );
}
