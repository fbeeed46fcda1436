import { CONTROL, Field } from "@/kit/Field";
import { NewPasswordField } from "./NewPasswordField";

export interface PersonValues {
  name: string;
  family: string;
  sign_in: string;
  password: string;
}

export const NOBODY: PersonValues = { name: "", family: "", sign_in: "", password: "" };

interface Props {
  values: PersonValues;
  onChange: (values: PersonValues) => void;
}

/** What a new person says of themselves. */
export function PersonFields({ values, onChange }: Props) {
  const set = (key: keyof PersonValues) => (e: { target: { value: string } }) =>
    onChange({ ...values, [key]: e.target.value });
  return (
    <>
      <Field label="Your name" hint="As people say it, given name first.">
        <input className={CONTROL} value={values.name} autoComplete="name" required onChange={set("name")} />
      </Field>
      <Field label="Family name" hint="Lists are sorted by it; leave it empty if you have none.">
        <input
          className={CONTROL}
          value={values.family}
          autoComplete="family-name"
          onChange={set("family")}
        />
      </Field>
      <Field label="Sign-in name" hint="Letters, digits and . _ - @ +">
        <input
          className={CONTROL}
          value={values.sign_in}
          autoComplete="username"
          required
          onChange={set("sign_in")}
        />
      </Field>
      <NewPasswordField
        label="Password"
        value={values.password}
        onChange={(password) => onChange({ ...values, password })}
      />
    </>
  );
}
