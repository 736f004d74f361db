import type * as z from "zod/mini";
import type { Score } from "./score-schema.ts";

/** One problem of an entry: the field, and a sentence that says what to change. */
export interface Problem {
  field: string;
  message: string;
}

export type Scored = { ok: true; score: Score } | { ok: false; problems: Problem[] };

/** Makes a score from its figure; parts that are left out are absent. */
export function scored(value: number | null, unit: string, more: Partial<Score> = {}): Scored {
  return {
    ok: true,
    score: { value, unit, numerator: null, denominator: null, interval95: null, detail: {}, ...more },
  };
}

/** A percentage of counts: 100 · numerator / denominator. */
export function scoredShare(numerator: number, denominator: number, more: Partial<Score> = {}): Scored {
  return scored((100 * numerator) / denominator, "percent", { numerator, denominator, ...more });
}

/** A refusal for one reason, at one field. */
export function refused(field: string, message: string): { ok: false; problems: Problem[] } {
  return { ok: false, problems: [{ field, message }] };
}

/** What a schema found, as problems. */
export function problemsFrom(error: z.core.$ZodError): Problem[] {
  return error.issues.map(({ path, message }) => ({ field: path.join("."), message }));
}
