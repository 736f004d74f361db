import * as z from "zod/mini";

/** A sentence of the patterns that stands in the report, as an observation to check. */
export const patternNoteSchema = z.object({
  noteId: z.uuid(),
  authorId: z.uuid(),
  author: z.string(),
  words: z.string(),
  strength: z.enum(["strong", "weak"]),
  /** The span it was counted in, `YYYY-MM-DD`. */
  from: z.iso.date(),
  to: z.iso.date(),
  /** When it was put there, in the school's own date and time. */
  on: z.iso.date(),
  time: z.string(),
  removed: z.nullable(z.object({ by: z.string(), when: z.string() })),
});
export interface PatternNote extends z.infer<typeof patternNoteSchema> {}
