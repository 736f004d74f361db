import * as z from "zod/mini";
import { isDate } from "#core/dates/day-number.ts";
import { timeIn, timeProblem } from "#core/words/read-time-of-day.ts";

export type Problems = Record<string, string>;

/** Reads a form at the edge: the values in their schema's shape, or one message for each field that is wrong. */
export function readForm<Schema extends z.ZodMiniType>(
  form: FormData,
  schema: Schema,
): { ok: true; values: z.output<Schema> } | { ok: false; problems: Problems } {
  const parsed = schema.safeParse(Object.fromEntries(form));
  return parsed.success
    ? { ok: true, values: parsed.data }
    : {
        ok: false,
        problems: problemsOf(
          parsed.error.issues.map(({ path, message }) => ({ field: path.join("."), message })),
        ),
      };
}

/** The first problem of each field. */
export function problemsOf(list: readonly { field: string; message: string }[]): Problems {
  return Object.fromEntries([...list].reverse().map(({ field, message }) => [field, message]));
}

/** The database takes no other dates: a year that was typed wrong is said beside its field. */
const isOfNow = (date: string): boolean => date >= "2000-01-01" && date <= "2100-12-31";

/** What was typed, to give it back beside the problems. Passwords are not given back. */
export function typedValues(form: FormData): Record<string, string> {
  return Object.fromEntries(
    [...form].flatMap(([name, value]) =>
      typeof value === "string" && name !== "password" ? [[name, value]] : [],
    ),
  );
}

export const text = (limit: number, missing: string) =>
  z.string().check(z.trim(), z.minLength(1, missing), z.maxLength(limit, `At most ${limit} characters.`));
export const optionalText = (limit: number) =>
  z.pipe(
    z.optional(z.string().check(z.trim(), z.maxLength(limit, `At most ${limit} characters.`))),
    z.transform((value) => value || null),
  );
export const email = z
  .string()
  .check(
    z.trim(),
    z.toLowerCase(),
    z.maxLength(254, "At most 254 characters."),
    z.email("This is not a complete e-mail address."),
  );
/** A time of day as people type it, read as `HH:MM`; empty where it may be. */
export const typedTime = (missing: string | null) =>
  z.pipe(
    z._default(z.string(), "").check((typed) => {
      const message = typed.value.trim() === "" ? missing : timeProblem(typed.value);
      if (message) typed.issues.push({ code: "custom", message, input: typed.value });
    }),
    z.transform(timeIn),
  );
export const id = z.uuid();
export const date = z
  .string()
  .check(z.refine(isDate, "There is no such date."), z.refine(isOfNow, "Choose a date from 2000 to 2100."));
/** A date that may be left empty: null then. */
export const optionalDate = z.pipe(
  z.optional(
    z.string().check(
      z.refine((value) => value === "" || isDate(value), "There is no such date."),
      z.refine((value) => value === "" || isOfNow(value), "Choose a date from 2000 to 2100."),
    ),
  ),
  z.transform((value) => value || null),
);
