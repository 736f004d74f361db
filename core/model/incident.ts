import * as z from "zod/mini";
import { choiceLists } from "./choice-lists.ts";
import { detailsSchema } from "./incident-content.ts";

const ofLists = z.record(z.enum(choiceLists), z.array(z.string()));

/** An incident as its readers see it: one adult's account of what was seen. */
export const incidentSchema = z.object({
  incidentId: z.uuid(),
  studentId: z.uuid(),
  authorId: z.uuid(),
  author: z.string(),
  /** The school's own day, `YYYY-MM-DD`. */
  on: z.iso.date(),
  /** `HH:MM`; null where only the day or its period is known. */
  at: z.nullable(z.string()),
  period: z.nullable(z.string()),
  /** The words that its choices have now, and the ids of the choices. */
  names: ofLists,
  choices: ofLists,
  details: detailsSchema,
  observerId: z.nullable(z.uuid()),
  ongoing: z.boolean(),
  /** What the school asks for where somebody came to harm, and has not been told yet. */
  factsMissing: z.array(z.string()),
  note: z.nullable(z.string()),
  state: z.enum(["kept", "removed"]),
  revision: z.int(),
  /** Was what is told of it changed since it was written? */
  corrected: z.boolean(),
  /** The incident of which this is another adult's account. */
  sameAs: z.nullable(z.uuid()),
});
export interface Incident extends z.infer<typeof incidentSchema> {}
