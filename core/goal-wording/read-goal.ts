import type { MeasureKind } from "../measures/measure.ts";
import { withoutAsides } from "./asides.ts";
import { type ReadCount, readCount } from "./count.ts";
import { readDue } from "./due.ts";
import { readKind } from "./measure-kind.ts";
import { digitsForWords } from "./numbers.ts";
import { readOccasions } from "./occasions.ts";
import { readPercent } from "./percent.ts";
import { readSupport, type SupportLevel } from "./support.ts";
import { type Span, workingText } from "./working-text.ts";

/** What a goal's wording says of its set-up; null where it does not say. A proposal to confirm, never a silent setting. */
export interface GoalReading {
  measure: MeasureKind | null;
  percent: number | null;
  count: (({ atLeast: number } | { atMost: number }) & { unit: string }) | null;
  opportunities: { k: number; n: number } | null;
  window: { k: number; n: number; consecutive: boolean } | null;
  support: { level: SupportLevel; atMost: number | null } | null;
  due: string | null;
}

export interface ReadGoal {
  reading: GoalReading;
  /** Where in the wording each field was read. */
  words: Partial<Record<keyof GoalReading, Span>>;
  windowUnit: "session" | "day" | "week" | "month" | null;
}

const nothing: ReadGoal = {
  reading: {
    measure: null,
    percent: null,
    count: null,
    opportunities: null,
    window: null,
    support: null,
    due: null,
  },
  words: {},
  windowUnit: null,
};

/** "will not leave the room more than once a week" is at most once, where "more than" alone is at least one more. */
function asNegated(text: string, count: ReadCount | null): ReadCount | null {
  const isNegated = /\b(?:will|shall|does|do) not\b[^.;]{0,80}\bmore than\b/.test(text);
  return count && isNegated && count.bound === "atLeast"
    ? { ...count, bound: "atMost", value: Math.max(0, count.value - 1) }
    : count;
}

/**
 * Reads a goal statement: measure, criterion, opportunities, window, support and due date, each with its words.
 *
 * Each field is read by general rules on what the fields before it have left, so that no number is read twice. The
 * conventions are those of docs/methods.md.
 *
 * @param wording the statement as the IEP has it, in any case and spelling
 *
 * Source: the conventions are ours, after how IEP goals are commonly written (common practice).
 *
 * @example readGoal("… with 80% accuracy in 3 of 4 sessions").reading.window // {k: 3, n: 4, consecutive: false}
 */
export function readGoal(wording: string): ReadGoal {
  const text = workingText(wording);
  const { due, rest: undated } = readDue(text);
  const targets = withoutAsides(digitsForWords(undated));
  const { percent, rest: afterPercent } = readPercent(targets);
  const occasions = readOccasions(afterPercent);
  const { support, rest: afterSupport } = readSupport(occasions.rest);
  const { opportunities, window } = occasions;
  const count = asNegated(text, readCount(afterSupport, !percent && !opportunities && !support).count);
  const kind = readKind(undated, { percent, count, opportunities, nouns: occasions.nouns, window, support });
  if (!kind) return nothing;
  const words: ReadGoal["words"] = {};
  const note = (field: keyof GoalReading, span: Span | null | undefined) => {
    if (span) words[field] = span;
  };
  note("measure", kind.span);
  note("percent", percent?.span);
  note("count", count?.span);
  note("opportunities", opportunities?.span);
  note("window", window?.span);
  note("support", support?.span);
  note("due", due?.span);
  return {
    words,
    windowUnit: window?.unit ?? null,
    reading: {
      measure: kind.kind,
      percent: percent?.value ?? null,
      count:
        count &&
        (count.bound === "atLeast"
          ? { atLeast: count.value, unit: count.unit }
          : { atMost: count.value, unit: count.unit }),
      opportunities: opportunities && { k: opportunities.k, n: opportunities.n },
      window: window && { k: window.k, n: window.n, consecutive: window.consecutive },
      support: support && { level: support.level, atMost: support.atMost },
      due: due?.date ?? null,
    },
  };
}
