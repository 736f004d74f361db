import * as z from "zod/mini";
import { purposeSchema } from "../criteria/criterion.ts";
import { jotDetailsSchema } from "../model/jot.ts";
import { beganSchema, chosenSchema, detailsSchema } from "../model/incident-content.ts";
import { formats, upgradedKind } from "./formats.ts";

const id = z.uuid();
const moment = z.iso.datetime();
const note = z.nullable(z.string().check(z.maxLength(2000)));
const word = z.nullable(z.string().check(z.maxLength(100)));

/** A picture of a device in Base64, characters at most. */
export const mostPictureText = 1_200_000;

const mostAhead = 100 * 366 * 86_400_000;

/** What all things have in common that a device keeps until the server has them. */
const ofStudent = {
  /** The format of this item; the server reads every format of the last 60 days. */
  format: z.literal(formats.item),
  id,
  studentId: id,
  /** When it was observed, by the clock of the device. */
  observedAt: moment,
  /** By how many milliseconds the server's clock was ahead when the two last met: at most a hundred years either way. */
  clockAhead: z.int().check(z.gte(-mostAhead), z.lte(mostAhead)),
  /** When the device put it into its queue, and when the server had given the pack: before that it cannot have been. */
  keptAt: z.optional(moment),
  packAt: z.optional(moment),
  /** Did its person say when it was, because the clock was wrong? */
  timeSaid: z.optional(z.boolean()),
  /** Who observed, where it was not the signed-in person; with the handover where they gave their PIN. */
  observer: z.optional(z.object({ personId: id, handoverId: z.nullable(id) })),
};

const common = { ...ofStudent, goalId: id };

const ofSitting = {
  ...common,
  ...{ sittingId: id, startedAt: moment, note },
  /** Is the note for the team only? Absent where it is not, and from earlier programs. */
  noteForTeam: z.optional(z.boolean()),
};

const observation = {
  ...ofSitting,
  measureVersion: z.int().check(z.gte(1)),
  purpose: purposeSchema,
  setting: word,
  support: word,
  interrupted: z.boolean(),
  entry: z.record(z.string(), z.unknown()),
};

const localTime = z.string().check(z.regex(/^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/));

/** What can be taken back right after it was recorded. */
const takenBack = z.enum(["entry", "second", "not measured", "absent", "incident", "jot"]);
export type TakenBack = z.infer<typeof takenBack>;

export const queuedSchema = z.discriminatedUnion("kind", [
  z.object({ ...observation, kind: z.literal("entry") }),
  /** A second observation of another person's sitting: it is compared and not counted. */
  z.object({ ...observation, kind: z.literal("second"), withSittingId: z.nullable(id) }),
  z.object({ ...ofSitting, kind: z.literal("not measured"), reason: z.enum(["refused", "interrupted"]) }),
  z.object({ ...ofSitting, kind: z.literal("absent") }),
  z.object({ ...common, kind: z.literal("tally open") }),
  z.object({ ...common, kind: z.literal("tally press") }),
  z.object({ ...common, kind: z.literal("tally back"), pressId: id }),
  z.object({
    ...common,
    kind: z.literal("tally close"),
    on: z.iso.date(),
    seenFrom: localTime,
    seenTo: localTime,
    setting: word,
    note,
  }),
  z.object({
    ...ofStudent,
    kind: z.literal("incident"),
    began: beganSchema,
    chosen: chosenSchema,
    details: detailsSchema,
    /** Still going on when it was written: finished later. */
    ongoing: z.boolean(),
    note,
  }),
  /** Asks whether two accounts of nearly the same time are one incident. */
  z.object({
    ...ofStudent,
    kind: z.literal("same incident"),
    incidentId: id,
    otherId: id,
    same: z.boolean(),
  }),
  z.object({
    ...ofStudent,
    kind: z.literal("watched"),
    on: z.iso.date(),
    /** Empty for the whole day. */
    period: z.string().check(z.maxLength(100)),
    /** Null takes back what was said. */
    state: z.nullable(z.enum(["none", "absent", "not observed"])),
  }),
  z.object({
    ...ofStudent,
    kind: z.literal("jot"),
    began: beganSchema,
    categoryId: z.nullable(id),
    details: jotDetailsSchema,
    note,
    /** The student's own rating. */
    own: z.boolean(),
    teamOnly: z.boolean(),
  }),
  /** A picture that a jot names, made small on the device. */
  z.object({
    ...ofStudent,
    kind: z.literal("picture"),
    jotId: id,
    /** The file in Base64 (RFC 4648, 4). */
    data: z.string().check(z.maxLength(mostPictureText), z.regex(/^[A-Za-z0-9+/]+={0,2}$/)),
  }),
  /** Undone right after it was saved. */
  z.object({ ...ofStudent, kind: z.literal("take back"), of: takenBack, thingId: id }),
]);
export type Queued = z.output<typeof queuedSchema>;

const anyFormat = z.looseObject({ format: z.int().check(z.gte(1)) });

/** Reads an item that a device sent, in any format that is still supported. Null where it cannot be read: the device keeps it and says so. */
export function readQueued(raw: unknown): Queued | null {
  const sent = anyFormat.safeParse(raw);
  if (!sent.success) return null;
  const read = queuedSchema.safeParse(upgradedKind("item", sent.data.format, raw));
  return read.success ? read.data : null;
}
