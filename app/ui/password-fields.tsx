import { Field } from "./field.tsx";

/** A new password, for the account of an address: a password manager keeps both together. */
export function NewPassword({
  email,
  name = "password",
  label = "Password",
  hint = "At least 12 characters; a few words are good. None of the most common ones.",
  problem,
}: {
  email: string;
  name?: string;
  label?: string;
  hint?: string;
  problem: string | undefined;
}) {
  return (
    <>
      <input type="hidden" name="username" autoComplete="username" value={email} readOnly />
      <Field
        label={label}
        name={name}
        type="password"
        autoComplete="new-password"
        problem={problem}
        hint={hint}
      />
    </>
  );
}
