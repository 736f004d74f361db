import * as z from "zod/mini";
import { purposeSchema } from "../criteria/criterion.ts";
import { parts } from "../incidents/settings.ts";
import { measureSchema } from "../measures/measure-schema.ts";
import { jotCategorySchema } from "../model/jot.ts";
import { choiceLists } from "../model/choice-lists.ts";
import { hashedNamesSchema } from "../report/names/hashed-names-schema.ts";
import { formats } from "./formats.ts";

const id = z.uuid();
const text = z.string();
const day = z.iso.date();
const time = z.string().check(z.regex(/^\d{2}:\d{2}$/));
const meeting = { weekday: z.int(), startsAt: time, endsAt: time };

/** The part of a goal that a recording screen needs. In its texts `{student}` stands for the student's name. */
export const packedGoalSchema = z.object({
  goalId: id,
  number: text,
  title: text,
  wording: text,
  strategy: text,
  /** The criterion in words; null where there is none. */
  criterion: z.nullable(text),
  measure: measureSchema,
  measureVersion: z.int(),
  planned: z.nullable(z.int()),
  purposes: z.readonly(z.array(purposeSchema)),
  /** The days on which it is due, of those ahead that are known. */
  dueOn: z.array(day),
});
export interface PackedGoal extends z.infer<typeof packedGoalSchema> {}

/** What was said of a day, or of a period of it; an empty period for the whole day. */
const saidOfDaySchema = z.object({
  on: day,
  period: text,
  state: z.enum(["none", "not observed", "absent"]),
});
export interface SaidOfDay extends z.infer<typeof saidOfDaySchema> {}

const packedChoiceSchema = z.object({
  choiceId: id,
  list: z.enum(choiceLists),
  name: text,
  definition: z.nullable(text),
});
export interface PackedChoice extends z.infer<typeof packedChoiceSchema> {}

export const packedStudentSchema = z.object({
  studentId: id,
  /** The alias or the initials: what recording screens show unless their person wants names. */
  screenName: text,
  calledName: text,
  goals: z.array(packedGoalSchema),
  /** What an incident of theirs may be made of, most used first; starters where they have no list of their own. */
  choices: z.array(packedChoiceSchema),
  /** Is this person asked why they think it happened? */
  asksWhy: z.boolean(),
  /** What was said of this day and its periods so far. */
  saidToday: z.array(saidOfDaySchema),
});
export interface PackedStudent extends z.infer<typeof packedStudentSchema> {}

/** Somebody else who works with a student of this person. */
const colleagueSchema = z.object({
  personId: id,
  name: text,
  /** Can they take over a device by their PIN? */
  pin: z.boolean(),
});
export interface Colleague extends z.infer<typeof colleagueSchema> {}

/** How a school records incidents, as `IncidentSettings`. */
const incidentSettingsSchema = z.object({
  bands: z.readonly(z.array(z.object({ name: text, from: z.number(), to: z.nullable(z.number()) }))),
  strengths: z.readonly(z.array(text)),
  off: z.readonly(z.array(z.enum(parts))),
  whyAsked: z.enum(["of leads", "of everyone"]),
  harmAsked: z.readonly(z.array(text)),
});

/** Everything with which a device can record without a network: of each student in the person's circles, the least needed. */
export const recordingPackSchema = z.object({
  format: z.literal(formats.pack),
  person: z.object({ personId: id, name: text }),
  timeZone: text,
  today: day,
  students: z.array(packedStudentSchema),
  groups: z.array(
    z.object({
      groupId: id,
      name: text,
      meets: z.array(z.object({ ...meeting, name: z.optional(text) })),
      studentIds: z.array(id),
    }),
  ),
  settings: z.array(text),
  supports: z.array(text),
  incidents: incidentSettingsSchema,
  /** What the school writes jots about; a pack of an earlier program has none. */
  jotCategories: z.optional(z.array(jotCategorySchema)),
  /** The names of the school's students as hashes; a pack of an earlier program has none. */
  names: z.optional(hashedNamesSchema),
  /** The periods of each day of the school's week. */
  timetable: z.array(z.object({ ...meeting, name: text })),
  /** Days ahead without school, today among them: what is asked before an entry of such a day counts. */
  noSchool: z.optional(z.record(z.string(), z.string())),
  /** Who else records for these students, and could take this device over. */
  colleagues: z.array(colleagueSchema),
});
export interface RecordingPack extends z.infer<typeof recordingPackSchema> {}

/** Who has a device in hand, where that is not the signed-in person. */
export const holderSchema = z.object({
  personId: id,
  name: text,
  /** Set where the person gave their PIN. Without it the signed-in person recorded for them. */
  handoverId: z.nullable(id),
  /** Milliseconds since 1970. */
  since: z.number(),
});
export interface Holder extends z.infer<typeof holderSchema> {}

/** The pack as a device keeps it, with what only the device knows. */
export const keptPackSchema = z.object({
  pack: recordingPackSchema,
  /** By how many milliseconds the server's clock was ahead of this one. */
  clockAhead: z.int(),
  /** When the server gave the pack, by its own clock; milliseconds since 1970. */
  packAt: z.optional(z.int()),
  /** The goals chosen for a student in the last sitting. */
  chosen: z.record(z.string(), z.array(z.string())),
  holder: z.optional(z.nullable(holderSchema)),
});
export interface KeptPack extends z.infer<typeof keptPackSchema> {}
