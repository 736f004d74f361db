import { createContext, type ReactNode, useContext } from "react";
import { Field, Select, TextArea } from "#app/ui/field.tsx";
import type { SetUpValues } from "./set-up-values.ts";

/** What every field of the set-up shares: the values, how to change one, its problem, and the words of the wording it came from. */
export interface SetUpFields {
  values: SetUpValues;
  set: (name: string, value: string) => void;
  problems: Readonly<Record<string, string>>;
  words: SetUpValues;
}

export const SetUpContext = createContext<SetUpFields>({
  values: {},
  set: () => undefined,
  problems: {},
  words: {},
});

export const useSetUp = () => useContext(SetUpContext);

/** Says from which words of the goal a field was filled, so that it can be confirmed or corrected. */
export function FromWording({ name }: { name: string }) {
  const { words } = useSetUp();
  const said = words[name];
  if (!said) return null;
  return (
    <p className="mt-1 text-fine text-soft">
      from <q className="read-words">{said}</q>
    </p>
  );
}

interface FieldProps {
  name: string;
  label: string;
  hint?: string;
  className?: string;
}

export function TextField({
  name,
  label,
  hint,
  className = "",
  list,
  type,
  numeric = false,
  maxLength = 200,
}: FieldProps & { list?: string; type?: string; numeric?: boolean; maxLength?: number }) {
  const { values, set, problems } = useSetUp();
  return (
    <div className={className}>
      <Field
        label={label}
        name={name}
        value={values[name] ?? ""}
        onChange={({ target }) => set(name, target.value)}
        problem={problems[name]}
        maxLength={maxLength}
        autoComplete="off"
        {...(hint ? { hint } : {})}
        {...(list ? { list } : {})}
        {...(type ? { type } : {})}
        {...(numeric ? { inputMode: "decimal" as const } : {})}
      />
      <FromWording name={name} />
    </div>
  );
}

export function TextBox({
  name,
  label,
  hint,
  className = "",
  rows = 4,
  maxLength = 2000,
}: FieldProps & { rows?: number; maxLength?: number }) {
  const { values, set, problems } = useSetUp();
  return (
    <div className={className}>
      <TextArea
        label={label}
        name={name}
        rows={rows}
        dir="auto"
        maxLength={maxLength}
        value={values[name] ?? ""}
        onChange={({ target }) => set(name, target.value)}
        problem={problems[name]}
        {...(hint ? { hint } : {})}
      />
      <FromWording name={name} />
    </div>
  );
}

export function ChoiceField({
  name,
  label,
  hint,
  className = "",
  options,
}: FieldProps & { options: readonly (readonly [string, string])[] }) {
  const { values, set, problems } = useSetUp();
  return (
    <div className={className}>
      <Select
        label={label}
        name={name}
        value={values[name] ?? ""}
        onChange={({ target }) => set(name, target.value)}
        options={options}
        problem={problems[name]}
        {...(hint ? { hint } : {})}
      />
      <FromWording name={name} />
    </div>
  );
}

/** A box to tick that stands in the values as "yes". */
export function Tick({ name, label }: { name: string; label: ReactNode }) {
  const { values, set } = useSetUp();
  return (
    <label className="flex min-h-8 items-center gap-2 text-[0.9375rem]">
      <input
        type="checkbox"
        className="size-4.5 accent-primary"
        name={name}
        value="yes"
        checked={values[name] === "yes"}
        onChange={({ target }) => set(name, target.checked ? "yes" : "")}
      />
      {label}
    </label>
  );
}

export function Section({
  title,
  children,
  aside,
}: {
  title: string;
  children: ReactNode;
  aside?: ReactNode;
}) {
  return (
    <fieldset className="border-t border-base-300 pt-4 pb-5">
      <legend className="float-left mb-3 w-full font-serif text-[1.15rem] font-semibold">
        {title}
        {aside ? <span className="ml-3 font-sans text-fine font-normal text-soft">{aside}</span> : null}
      </legend>
      <div className="clear-both grid gap-4">{children}</div>
    </fieldset>
  );
}
