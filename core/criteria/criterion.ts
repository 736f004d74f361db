import * as z from "zod/mini";
import { type Direction, directionSchema } from "../measures/direction-schema.ts";
import { type Purpose, purposes } from "./purposes.ts";

/** k of the last n occasions; `consecutive` when n of n in a row are asked for. */
export const windowSchema = z
  .object({ k: z.int().check(z.gte(1), z.lte(100)), n: z.int().check(z.gte(1), z.lte(100)) })
  .check(z.refine((window) => window.k <= window.n, "k cannot be more than n."));
export type MasteryWindow = z.infer<typeof windowSchema>;

export { type Purpose, purposes } from "./purposes.ts";
export const purposeSchema = z.enum(purposes);

export const windowUnits = ["session", "day", "week", "month"] as const;

/** A second threshold joined to the first: "and 95% accuracy". */
const joinedSchema = z.object({
  /** Where the figure stands in a score's detail, as the measure's `sideFigures` name it. */
  figure: z.string().check(z.minLength(1), z.maxLength(220)),
  value: z.number(),
  direction: directionSchema,
});
export type Joined = z.infer<typeof joinedSchema>;

const breadth = z.optional(z.int().check(z.gte(2), z.lte(20)));

/** The threshold a goal names, and how often it has to be met. */
export const criterionSchema = z.object({
  /** In the unit of the measure's value. */
  value: z.number(),
  direction: z._default(directionSchema, "increase"),
  window: windowSchema,
  /** What one occasion is: entries are pooled to it before they are held against the criterion. */
  windowUnit: z._default(z.enum(windowUnits), "session"),
  /** An entry with fewer opportunities is shown and not counted. */
  minimumOpportunities: z.optional(z.int().check(z.gte(1))),
  /** Which purposes of entry count. */
  purposes: z._default(z.array(purposeSchema).check(z.minLength(1)), ["probe"]),
  /** Further thresholds that the same occasion has to meet. */
  joined: z.optional(z.array(joinedSchema).check(z.maxLength(5))),
  /** In how many different settings, and seen by how many different people, it has to be met. */
  settings: breadth,
  people: breadth,
  /** What no number can show, for a person to confirm. */
  confirm: z.optional(z.array(z.string().check(z.minLength(1), z.maxLength(200))).check(z.maxLength(10))),
});
export type Criterion = z.infer<typeof criterionSchema>;

/** Which purposes of entry count for a goal: probes, unless its criterion says otherwise. */
export function countedPurposes(criterion: Pick<Criterion, "purposes"> | null): readonly Purpose[] {
  return criterion?.purposes ?? ["probe"];
}

/** Is this value at the threshold, or on its better side? As it is, without rounding. */
export function reaches(value: number, threshold: number, direction: Direction): boolean {
  return direction === "increase" ? value >= threshold : value <= threshold;
}

/** With how many decimals a number is written: 67 → 0, 4.5 → 1. */
export const decimalsOf = (value: number): number => (String(value).split(".")[1] ?? "").length;

/** Rounded to so many decimals, halves away from zero: 66.5 → 67, −0.5 → −1. */
function rounded(value: number, decimals: number): number {
  const size = 10 ** decimals;
  // A half that floating point made a little smaller (1.005 · 100 = 100.49999…) is a half still.
  return (Math.sign(value) * Math.floor(Math.abs(value) * size + 0.5 + 1e-9)) / size;
}

/**
 * Does this value meet the threshold? It is compared at the precision in which the threshold is written, so that what is shown and what is
 * decided never disagree: 2 of 3 (66.67%) meets 67, 94.4 does not meet 95.
 *
 * @param decimals of the threshold as it is written; of "80.0" one
 *
 * Source: ours; a school grades so.
 */
export const meets = (
  value: number,
  threshold: number,
  direction: Direction,
  decimals = decimalsOf(threshold),
): boolean => reaches(rounded(value, decimals), threshold, direction);

/** Does an occasion meet the criterion with everything joined to it? A joined figure that is not there does not. */
export function meetsAll(
  { value, side }: { value: number; side?: Readonly<Record<string, number | null>> },
  criterion: Pick<Criterion, "value" | "direction" | "joined">,
): boolean {
  return (
    meets(value, criterion.value, criterion.direction) &&
    (criterion.joined ?? []).every((joined) => {
      const found = side?.[joined.figure];
      return typeof found === "number" && meets(found, joined.value, joined.direction);
    })
  );
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
