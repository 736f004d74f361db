import type { ObservedEntry } from "../measures/measure-schema.ts";
import type { Score } from "../measures/score-schema.ts";
import type { Criterion } from "../criteria/criterion.ts";
import type { Measure } from "../measures/measure-schema.ts";
import type { ChoiceList } from "./choice-lists.ts";
import type { Circumstances, NotMeasuredReason } from "./entry.ts";
import type { IncidentDetails } from "./incident-content.ts";
import type { JotDetails } from "./jot.ts";
import type { PlanContent } from "./plan.ts";
import type { StatementContent } from "./progress-statement.ts";

/** What a step in the history of each kind of thing keeps: what stands from then on. Moments are ISO 8601. */
export interface RevisedContent {
  entry: {
    observedAt: string;
    setting: string | null;
    entry: ObservedEntry;
    score: Score;
    note: string | null;
    circumstances: Circumstances;
    observerId: string | null;
  };
  incident: {
    on: string;
    at: string | null;
    period: string | null;
    content: {
      choices: Record<ChoiceList, string[]>;
      details: IncidentDetails;
      ongoing: boolean;
      observerId: string | null;
    };
    note: string | null;
    /** The incident of which it is another account; not kept in the first versions. */
    sameAs?: string | null;
  };
  "not measured": { reason: NotMeasuredReason; note: string | null; noteForTeam?: boolean };
  decision: { on: string; reason: string };
  goal: {
    /** The day from which it holds. */
    fromOn: string;
    setUp: {
      number: string;
      title: string;
      wording: string;
      area: string;
      criterion: Criterion | null;
      measure: Measure;
      dueOn: string | null;
    };
  };
  plan: PlanContent;
  jot: JotDetails & {
    on: string;
    at: string | null;
    period: string | null;
    categoryId: string | null;
    note: string | null;
    own: boolean;
    teamOnly: boolean;
    observerId: string | null;
  };
  statement: StatementContent & { ready: boolean };
}
export type RevisedThing = keyof RevisedContent;

type UsualActs = "made" | "corrected" | "removed" | "restored";

/** What can happen to each kind of thing. */
export interface RevisedActs extends Record<Exclude<RevisedThing, "goal" | "incident">, UsualActs> {
  incident: UsualActs | "joined" | "told apart";
  goal: "made" | "changed" | "met" | "not met" | "discontinued" | "continued" | "taken up again";
}

/** One step in the history of a thing. */
export interface Revision<Thing extends RevisedThing> {
  revision: number;
  act: RevisedActs[Thing];
  /** "N. Halloran"; null where nobody is known any more who did it. */
  by: string | null;
  /** Whose device it was written on, where it had been handed over: "T. Ferro"; else null. */
  deviceOf: string | null;
  /** When, in the school's own day and time. */
  on: string;
  time: string;
  reason: string | null;
  content: RevisedContent[Thing];
}
