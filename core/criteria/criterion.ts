import * as z from "zod/mini";

/** k of the last n occasions; `consecutive` when n of n in a row are asked for. */
export const windowSchema = z
  .object({ k: z.int().check(z.gte(1), z.lte(100)), n: z.int().check(z.gte(1), z.lte(100)) })
  .check(z.refine((window) => window.k <= window.n, "k cannot be more than n."));
export type MasteryWindow = z.infer<typeof windowSchema>;

export const purposes = ["probe", "teaching", "generalisation", "maintenance"] as const;
export const purposeSchema = z.enum(purposes);
export type Purpose = z.infer<typeof purposeSchema>;

/** The threshold a goal names, and how often it has to be met. */
export const criterionSchema = z.object({
  value: z.number(),
  direction: z._default(z.enum(["increase", "decrease"]), "increase"),
  window: windowSchema,
  /** What one occasion is: entries are pooled to it before they are held against the criterion. */
  windowUnit: z._default(z.enum(["session", "day", "week"]), "session"),
  /** An entry with fewer opportunities is shown and not counted. */
  minimumOpportunities: z.optional(z.int().check(z.gte(1))),
  /** Which purposes of entry count. */
  purposes: z._default(z.array(purposeSchema), ["probe"]),
});
export type Criterion = z.infer<typeof criterionSchema>;
export type Direction = Criterion["direction"];

/** Does this value meet the threshold? At the threshold counts as meeting it. */
export function meets(value: number, threshold: number, direction: Direction): boolean {
  return direction === "increase" ? value >= threshold : value <= threshold;
}

/**
 * Reads a window as `figures progress` writes it: `2 of 3`, `3 consecutive` or `1`.
 *
 * @returns the window, or null when the text is none
 */
export function readWindow(text: string): MasteryWindow | null {
  const found = /^\s*(\d{1,3})(?:\s+(consecutive)|\s+of\s+(\d{1,3}))?\s*$/.exec(text);
  if (!found) return null;
  const k = Number(found[1]);
  const parsed = windowSchema.safeParse({ k, n: found[3] === undefined ? k : Number(found[3]) });
  return parsed.success ? parsed.data : null;
}
