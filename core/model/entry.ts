import * as z from "zod/mini";
import { purposeSchema } from "../criteria/criterion.ts";
import { entrySchema, measureSchema } from "../measures/measure-schema.ts";
import { scoreSchema } from "../measures/score-schema.ts";

/** What else was so while an entry was recorded. */
export const circumstancesSchema = z.object({
  /** The help given, in the school's word for it, where the measure does not say it mark by mark. */
  support: z.optional(z.string()),
  /** Was it broken off by something else? */
  interrupted: z.optional(z.boolean()),
  /** Is its note for the team only? */
  noteForTeam: z.optional(z.boolean()),
});
export interface Circumstances extends z.infer<typeof circumstancesSchema> {}

/** One goal observation: what was seen, and the score that its measure makes of it. */
export const entryRecordSchema = z.object({
  entryId: z.uuid(),
  goalId: z.uuid(),
  studentId: z.uuid(),
  authorId: z.uuid(),
  /** The observer; the author where nobody else was named. */
  observerId: z.uuid(),
  observer: z.string(),
  /** In words, for those who read: "I. Okafor", or "I. Okafor, written by N. Halloran". */
  author: z.string(),
  /** The school's own day and time, `YYYY-MM-DD` and `HH:MM`. */
  on: z.iso.date(),
  time: z.string().check(z.regex(/^\d{2}:\d{2}$/)),
  purpose: purposeSchema,
  setting: z.nullable(z.string()),
  sittingId: z.nullable(z.uuid()),
  /** Of a running total: what has come together in its week or month by this entry, this one included. */
  totalSoFar: z.nullable(z.number()),
  measureVersion: z.int(),
  /** The measure it was recorded for, which may have been changed since. */
  measure: measureSchema,
  entry: entrySchema,
  score: scoreSchema,
  note: z.nullable(z.string()),
  circumstances: circumstancesSchema,
  state: z.enum(["kept", "removed"]),
  revision: z.int(),
});
export interface Entry extends z.infer<typeof entryRecordSchema> {}

/** A goal that was to be measured and was not. */
export const notMeasuredSchema = z.object({
  noteId: z.uuid(),
  goalId: z.uuid(),
  authorId: z.uuid(),
  author: z.string(),
  on: z.iso.date(),
  time: z.string(),
  reason: z.enum(["refused", "interrupted"]),
  note: z.nullable(z.string()),
  /** Is the note for the team only? */
  noteForTeam: z.boolean(),
  revision: z.int(),
});
export interface NotMeasured extends z.infer<typeof notMeasuredSchema> {}
export type NotMeasuredReason = NotMeasured["reason"];
