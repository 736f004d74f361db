import type * as z from "zod/mini";
import type { EntryWords } from "../words/en/entries.ts";
import type { Problem, Scored } from "./score.ts";
import type { Score } from "./score-schema.ts";

/**
 * One way of measuring, as far as recording needs it; `KindDetails` has the rest. Everything of it is in its own folder.
 *
 * The functions take what their schemas have accepted; only `score` still finds what no single field can show.
 */
export interface Kind<M, E> {
  score(measure: M, entry: E): Scored;
  /** What no score sees: marks that do not add up to the counts beside them. */
  problems?(measure: M, entry: E): Problem[];
  unit(measure: M): string;
  /** The entry in one line of a report, after the goal's title, in the words of a language. */
  line(measure: M, entry: E, score: Score, words: EntryWords): string;
}

/** The shapes of one way of measuring, for whatever comes from outside. */
export interface KindSchemas<M, E> {
  measure: z.ZodMiniType<M>;
  /** The fields of an entry that its score needs; others are ignored. */
  observed: z.ZodMiniType;
  /** The whole entry as it is stored. */
  entry: z.ZodMiniType<E>;
}
