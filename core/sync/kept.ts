import * as z from "zod/mini";
import { purposeSchema } from "../criteria/criterion.ts";
import { chosenSchema, detailsSchema, saidTimes } from "../model/incident-content.ts";
import { holderSchema, packedGoalSchema } from "./pack.ts";

const id = z.uuid();
/** Milliseconds since 1970, by the device. */
const moment = z.number();

/** One stretch of data taking while it is open. */
export const sittingSchema = z.object({
  sittingId: id,
  startedAt: moment,
  students: z.array(z.object({ studentId: id, screenName: z.string(), goalIds: z.array(id) })),
  setting: z.string(),
  /** A second observation of another person's sitting: it is compared and not counted. It needs the network. */
  second: z.optional(z.nullable(z.object({ withSittingId: z.nullable(id), name: z.nullable(z.string()) }))),
});
export interface Sitting extends z.infer<typeof sittingSchema> {}

/** Who watched, where that was not the signed-in person. */
const observerSchema = z.pick(holderSchema, { personId: true, name: true, handoverId: true });
export interface Observer extends z.infer<typeof observerSchema> {}

/** Why a goal was not measured, or was only in part. */
const sheetStateSchema = z.nullable(z.enum(["absent", "refused", "interrupted"]));
export type SheetState = z.infer<typeof sheetStateSchema>;

/** One goal of one student in a sitting. */
export const sheetSchema = z.object({
  sittingId: id,
  entryId: id,
  studentId: id,
  /** The goal as it was when the sitting began: what changes meanwhile does not change it. */
  goal: packedGoalSchema,
  /** As `Mark` says. */
  marks: z.readonly(z.array(z.object({ at: moment, on: z.string(), value: z.string() }))),
  state: sheetStateSchema,
  note: z.string(),
  noteForTeam: z.optional(z.boolean()),
  support: z.string(),
  purpose: purposeSchema,
  /** A chain with open steps that was not broken off. */
  chainEnded: z.boolean(),
  /** Null for the signed-in person. Absent before the first mark, which sets it to whoever holds the device. */
  observer: z.optional(z.nullable(observerSchema)),
});
export interface Sheet extends z.infer<typeof sheetSchema> {}

/** An all-day tally that is not closed. */
export const openTallySchema = z.object({
  studentId: id,
  goalId: id,
  /** The school's own day, `YYYY-MM-DD`. */
  on: z.iso.date(),
  openedAt: moment,
  /** As `Press` says. */
  presses: z.array(z.object({ pressId: id, at: moment, by: z.string(), back: z.boolean() })),
});
export interface OpenTally extends z.infer<typeof openTallySchema> {}
export const talliesSchema = z.readonly(z.array(openTallySchema));

/** When an incident began: a moment (milliseconds since 1970), or what was said in the school's own dates and times. */
const draftTimeSchema = z.discriminatedUnion("as", [
  z.object({ as: z.literal("moment"), at: moment }),
  ...saidTimes,
]);

/** An incident while it is being written: as the form has it, so nothing is asked for yet. */
export const incidentDraftSchema = z.object({
  /** Made once: saved twice it is one incident. */
  incidentId: id,
  studentId: z.nullable(id),
  began: draftTimeSchema,
  /** A clock that was started when it began. */
  clock: z.nullable(z.object({ startedAt: moment, stoppedAt: z.nullable(moment) })),
  chosen: z.extend(chosenSchema, { behavior: chosenSchema.shape.antecedent }),
  details: detailsSchema,
  note: z.string(),
});
export interface IncidentDraft extends z.infer<typeof incidentDraftSchema> {}

/** A jot while it is being written, with its pictures as they were made small. */
export const jotDraftSchema = z.object({
  /** Made once: saved twice it is one jot. */
  jotId: id,
  studentId: z.nullable(id),
  began: draftTimeSchema,
  categoryId: z.nullable(id),
  levelId: z.nullable(id),
  note: z.string(),
  link: z.object({ url: z.string(), words: z.string() }),
  pictures: z.array(z.object({ pictureId: id, caption: z.string(), data: z.string() })),
  own: z.boolean(),
  teamOnly: z.boolean(),
});
export interface JotDraft extends z.infer<typeof jotDraftSchema> {}
