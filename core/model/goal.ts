import * as z from "zod/mini";
import { criterionSchema } from "../criteria/criterion.ts";
import { measureSchema } from "../measures/measure-schema.ts";
import { scheduleSchema } from "../schedule/schedule.ts";

const day = z.iso.date();
const id = z.uuid();

/** A stretch of teaching in one way; it lasts until the next one starts. */
export const goalPhaseSchema = z.object({
  phaseId: id,
  name: z.string(),
  isBaseline: z.boolean(),
  startsOn: day,
  reason: z.optional(z.string()),
});
export interface GoalPhase extends z.infer<typeof goalPhaseSchema> {}

/** What the figures need to know of a goal. Values are in the unit of its measure. */
export const goalSetupSchema = z.object({
  measure: measureSchema,
  criterion: z.nullable(criterionSchema),
  dueOn: z.nullable(day),
  metOn: z.nullable(day),
  enteredBaseline: z.nullable(z.object({ date: day, value: z.number() })),
  /** The number of first entries that make the baseline; null where it was entered. */
  baselineEntries: z.optional(z.nullable(z.int())),
  phases: z.readonly(z.array(goalPhaseSchema)),
});
export interface GoalSetup extends z.infer<typeof goalSetupSchema> {}

/** A goal of a student's IEP, as it stands. */
export const goalSchema = z.object({
  goalId: id,
  studentId: id,
  number: z.string(),
  area: z.string(),
  title: z.string(),
  wording: z.string(),
  measure: measureSchema,
  measureVersion: z.int(),
  /** The first version of the measure whose entries still compare with today's. */
  figuresFromVersion: z.int(),
  /** The goal under which this one is a short-term objective. */
  parentId: z.nullable(id),
  startOn: z.nullable(day),
  /** The school's day on which it was set up here. */
  setUpOn: z.nullable(day),
  annualReviewOn: z.nullable(day),
  schedule: z.nullable(scheduleSchema),
  strategy: z.string(),
  measuredBy: z.nullable(id),
  ended: z.nullable(z.object({ how: z.enum(["discontinued", "continued"]), on: day, reason: z.string() })),
  /** The goal of an earlier year that this one continues. */
  continues: z.nullable(id),
  /** How often its set-up was kept. */
  revision: z.int(),
  setup: goalSetupSchema,
});
export interface Goal extends z.infer<typeof goalSchema> {}
