import * as z from "zod/mini";
import { guesses } from "./guesses.ts";
import type { ChoiceList } from "./choice-lists.ts";

const minutes = z
  .number("Give the minutes as a number.")
  .check(z.gte(0, "Minutes cannot be below 0."), z.lte(1440, "That is more than a day."));

const bandSchema = z.object({
  name: z.string().check(z.minLength(1), z.maxLength(60)),
  from: minutes,
  to: z.nullable(minutes),
});

/** A choice as the device knew it: its words come along, for one made there without a network. */
const choiceSchema = z.object({
  choiceId: z.uuid(),
  name: z.string().check(z.trim(), z.minLength(1), z.maxLength(100)),
  once: z.optional(z.boolean()),
});
export type ChosenOne = z.output<typeof choiceSchema>;

const some = (most: number) =>
  z.array(choiceSchema).check(z.maxLength(most, "That is too many for one incident."));

export const chosenSchema = z.object({
  setting: some(1),
  antecedent: some(12),
  behavior: some(12).check(z.minLength(1, "Say what the student did.")),
  consequence: some(12),
  "setting event": some(12),
} satisfies Record<ChoiceList, unknown>);
export type ChosenChoices = z.output<typeof chosenSchema>;

/** What is said of an incident beside its choices, its time and its note. */
export const detailsSchema = z.object({
  functions: z.array(z.enum(guesses)).check(z.maxLength(guesses.length)),
  /** By the clock, or in one of the school's bands: a band stays a band. */
  length: z.nullable(z.union([z.object({ minutes }), z.object({ band: bandSchema })])),
  intensity: z.nullable(z.int().check(z.gte(1), z.lte(5))),
  resolved: z.nullable(z.boolean()),
  resolvedMinutes: z.nullable(minutes),
  /** Adults who were part of it, by their ids. */
  adults: z.array(z.uuid()).check(z.maxLength(10)),
  /** How many other students: "peer A", "peer B". Who they were is written nowhere. */
  peers: z.int().check(z.gte(0), z.lte(6)),
  harm: z.object({
    injury: z.boolean(),
    restraint: z.boolean(),
    seclusion: z.boolean(),
    /** What else the school asks for then, by its own questions. */
    facts: z
      .array(
        z.object({
          asked: z.string().check(z.maxLength(120)),
          said: z.string().check(z.maxLength(500)),
        }),
      )
      .check(z.maxLength(20)),
  }),
});
export type IncidentDetails = z.output<typeof detailsSchema>;

/** What is said of when it began, where it is not this moment: the school's own date and time, or only the day or its period. */
export const saidTimes = [
  z.object({
    as: z.literal("time"),
    local: z.string().check(z.regex(/^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/)),
  }),
  z.object({
    as: z.literal("period"),
    on: z.iso.date(),
    period: z.string().check(z.minLength(1), z.maxLength(100)),
  }),
  z.object({ as: z.literal("day"), on: z.iso.date() }),
] as const;

/** When it began: the moment at which it was observed, or what is said of it. */
export const beganSchema = z.discriminatedUnion("as", [z.object({ as: z.literal("moment") }), ...saidTimes]);
export type Began = z.output<typeof beganSchema>;
