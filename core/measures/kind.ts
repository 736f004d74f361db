import type * as z from "zod/mini";
import type { EntryWords } from "../words/en/entries.ts";
import type { Direction } from "./direction-schema.ts";
import type { Problem, Scored } from "./score.ts";
import type { Score } from "./score-schema.ts";

/** What one entry says of one part of its measure: a sub-skill, an item, a step, a prompt level, a criterion. */
export interface MeasurePart {
  part: string;
  /** The mark or figure as it is said: "verbal", "known", "3 of 4". */
  said: string;
  /** Credited out of how many: 1 of 1 for a skill, 3 of 10 for a prompt level, 3 of 4 for a level of a rubric. */
  credited: number;
  of: number;
}

export interface Fact {
  label: string;
  value: string;
}

/** A second figure that a measure yields beside its value and that a joined criterion may name. */
export interface SideFigure {
  /** Where it stands in the score's detail. */
  figure: string;
  label: string;
  unit: string;
  better: Direction;
}

/**
 * One way of measuring. Everything said of it stands in its own file; the rest of the program asks here.
 *
 * The functions take what their schemas have accepted; only `score` still finds what no single field can show.
 */
export interface Kind<M, E> {
  score(measure: M, entry: E): Scored;
  /** What no score sees: marks that do not add up to the counts beside them. */
  problems?(measure: M, entry: E): Problem[];
  unit(measure: M): string;
  /** The direction that is better unless the goal says otherwise. */
  better(measure: M): Direction;
  /** What its parts are called, one and many; null where it has none. */
  partsCalled: [one: string, many: string] | null;
  /** What credited means for a part, to complete "… 3 of 4 times": "known", "independent". */
  creditedMeans(measure: M): string;
  parts(measure: M, entry: E): MeasurePart[];
  sideFigures(measure: M): SideFigure[];
  /** The entry in one line of a report, after the goal's title, in the words of a language. */
  line(measure: M, entry: E, score: Score, words: EntryWords): string;
  /** The entry in full, below its line. */
  facts(measure: M, entry: E, score: Score): Fact[];
}

/** The shapes of one way of measuring, for whatever comes from outside. */
export interface KindSchemas<M, E> {
  measure: z.ZodMiniType<M>;
  /** The fields of an entry that its score needs; others are ignored. */
  observed: z.ZodMiniType;
  /** The whole entry as it is stored. */
  entry: z.ZodMiniType<E>;
}

/** What most kinds have in common. */
export const plainKind = {
  better: (): Direction => "increase",
  partsCalled: null,
  creditedMeans: () => "credited",
  parts: () => [],
  sideFigures: () => [],
  facts: () => [],
};
