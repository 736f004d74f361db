import * as z from "zod/mini";
import { purposeSchema } from "#core/criteria/criterion.ts";

const id = z.uuid();
const moment = z.iso.datetime();
const note = z.nullable(z.string().check(z.maxLength(2000)));

/** What all things have in common that a device keeps until the server has them. */
const common = {
  /** The format of this item; the server reads every format of the last 60 days. */
  format: z.literal(1),
  id,
  sittingId: id,
  startedAt: moment,
  studentId: id,
  goalId: id,
  /** When it was observed, by the clock of the device. */
  observedAt: moment,
  /** By how many milliseconds the server's clock was ahead when the two last met. */
  clockAhead: z.int(),
  note,
};

export const queuedSchema = z.discriminatedUnion("kind", [
  z.object({
    ...common,
    kind: z.literal("entry"),
    measureVersion: z.int().check(z.gte(1)),
    purpose: purposeSchema,
    setting: z.nullable(z.string().check(z.maxLength(100))),
    support: z.nullable(z.string().check(z.maxLength(100))),
    interrupted: z.boolean(),
    entry: z.record(z.string(), z.unknown()),
  }),
  z.object({ ...common, kind: z.literal("not measured"), reason: z.enum(["refused", "interrupted"]) }),
  z.object({ ...common, kind: z.literal("absent") }),
]);
export type Queued = z.output<typeof queuedSchema>;

/** What the server says of an item: it is there, or why it is not and what to do. */
export type KeepAnswer = { outcome: "saved" | "already" } | { outcome: "refused"; why: string };

/** Clocks this far apart are put right by the server's; below it the device's own time stands. */
export const clockTolerance = 60_000;
