import type { Direction } from "./direction-schema.ts";
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

/** What is asked of one way of measuring beyond recording: its parts, its second figures, an entry in full. */
export interface KindDetails<M, E> {
  /** The direction that is better unless the goal says otherwise. */
  better(measure: M): Direction;
  /** What its parts are called, one and many; null where it has none. */
  partsCalled: [one: string, many: string] | null;
  /** What credited means for a part, to complete "… 3 of 4 times": "known", "independent". */
  creditedMeans(measure: M): string;
  parts(measure: M, entry: E): MeasurePart[];
  sideFigures(measure: M): SideFigure[];
  /** The entry in full, below its line. */
  facts(measure: M, entry: E, score: Score): Fact[];
}

/** What most kinds have in common. */
export const plainDetails: KindDetails<unknown, unknown> = {
  better: () => "increase",
  partsCalled: null,
  creditedMeans: () => "credited",
  parts: () => [],
  sideFigures: () => [],
  facts: () => [],
};
