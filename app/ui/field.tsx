import { type ComponentProps, useId } from "react";

interface FieldProps extends ComponentProps<"input"> {
  label: string;
  hint?: string;
  problem?: string | undefined;
}

/** A labelled field; what is wrong with it stands beside it and is read with it. */
export function Field({ label, hint, problem, className = "", ...input }: FieldProps) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-fine font-bold">
        {label}
      </label>
      <input
        {...input}
        id={id}
        className="input w-full"
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem || hint ? `${id}-says` : undefined}
      />
      <FieldNote id={`${id}-says`} hint={hint} problem={problem} />
    </div>
  );
}

/** What a field of a form shares with all others: its name, what was typed or else what stands there, and its problem. */
export function fieldProps(
  typed: Readonly<Record<string, string>> | undefined,
  problems: Readonly<Record<string, string>>,
) {
  return (name: string, there?: string | null) => ({
    name,
    defaultValue: typed?.[name] ?? there ?? "",
    problem: problems[name],
  });
}

interface TextAreaProps extends ComponentProps<"textarea"> {
  label: string;
  hint?: string;
  problem?: string | undefined;
}

export function TextArea({ label, hint, problem, className = "", ...area }: TextAreaProps) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-fine font-bold">
        {label}
      </label>
      <textarea
        rows={3}
        {...area}
        id={id}
        className="textarea w-full leading-snug"
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem || hint ? `${id}-says` : undefined}
      />
      <FieldNote id={`${id}-says`} hint={hint} problem={problem} />
    </div>
  );
}

interface SelectProps extends ComponentProps<"select"> {
  label: string;
  hint?: string;
  problem?: string | undefined;
  options: readonly (readonly [value: string, label: string])[];
}

export function Select({ label, hint, problem, options, className = "", ...select }: SelectProps) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-fine font-bold">
        {label}
      </label>
      <select
        {...select}
        id={id}
        className="select w-full"
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem || hint ? `${id}-says` : undefined}
      >
        {options.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
      <FieldNote id={`${id}-says`} hint={hint} problem={problem} />
    </div>
  );
}

function FieldNote({ id, hint, problem }: { id: string; hint?: string; problem?: string | undefined }) {
  if (!problem && !hint) return null;
  return (
    <p id={id} className={`mt-1 text-fine ${problem ? "font-bold text-error" : "text-soft"}`}>
      {problem ?? hint}
    </p>
  );
}

/** What is wrong with the form as a whole, announced when it comes. */
export function FormProblem({ children }: { children: string | undefined }) {
  return (
    <div role="alert" className="empty:absolute">
      {children ? (
        <p className="rounded-lg border border-error px-3 py-2 text-[0.9375rem] font-bold text-error">
          {children}
        </p>
      ) : null}
    </div>
  );
}
