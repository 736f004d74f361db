import * as z from "zod/mini";

/** A whole number of things seen. */
export const wholeCount = z
  .int("Give a whole number.")
  .check(z.gte(0, "A count cannot be below 0."), z.lte(1_000_000, "That is more than a million."));

/** Seconds, fractions allowed: a stopwatch gives them. */
export const seconds = z
  .number("Give the time in seconds.")
  .check(z.gte(0, "A time cannot be below 0."), z.lte(1_000_000, "That is more than a million seconds."));

/** Seconds that something is divided by. */
export const observedSeconds = z
  .number("Give the time observed in seconds.")
  .check(
    z.gt(0, "The time observed must be more than 0 seconds."),
    z.lte(1_000_000, "That is more than a million seconds."),
  );

/** The name of a skill, step, item, level or outcome, as the school writes it, in any script. */
export const label = z.string("Give it a name.").check(
  z.minLength(1, "Give it a name."),
  z.maxLength(200, "At most 200 characters."),
  z.refine((text) => text !== "__proto__", "This name cannot be used."),
);

export const mostParts = 300;

/** A list of different names. */
export function labels(what: string) {
  return z.array(label, `Name the ${what}.`).check(
    z.minLength(1, `Name at least one of the ${what}.`),
    z.maxLength(mostParts, `At most ${mostParts}.`),
    z.refine((list) => new Set(list).size === list.length, `Two of the ${what} have the same name.`),
  );
}

/** A moment within an entry: seconds since the time of the entry, which is that of its first mark. */
export const moments = z.optional(z.array(seconds).check(z.maxLength(10_000)));
