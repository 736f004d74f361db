import { countAgreement } from "./count-agreement.ts";
import { durationAgreement } from "./duration-agreement.ts";
import { intervalAgreement } from "./interval-agreement.ts";
import type { MatchedUnits } from "./match-observers.ts";
import type { Agreement } from "./ratio.ts";
import { trialAgreement } from "./trial-agreement.ts";

/** Figures by the names that `figures agreement` gives them. */
export type AgreementFigures = Record<string, Agreement>;

/** The whole set of figures for units of one kind: percentages, and Cohen's kappa from −1 to 1. */
export function agreementFigures(matched: MatchedUnits): AgreementFigures {
  switch (matched.kind) {
    case "trial":
      return trialAgreement(matched.pairs);
    case "interval":
      return intervalAgreement(matched.pairs);
    case "count":
      return countAgreement(matched.pairs);
    case "duration":
      return durationAgreement(matched.pairs);
  }
}

/** The one figure that is said first: the strictest of its kind that every practitioner reads the same way. */
export function leadingFigure(matched: MatchedUnits): string {
  switch (matched.kind) {
    case "trial":
      return "trialByTrial";
    case "interval":
      return "intervalByInterval";
    case "count":
      // Without the moments of the counts there are no windows to compare.
      return matched.windowSeconds === null ? "totalCount" : "meanCountPerInterval";
    case "duration":
      return "meanDurationPerOccurrence";
  }
}

const words: Record<string, string> = {
  trialByTrial: "trial by trial",
  intervalByInterval: "interval by interval",
  scoredInterval: "scored intervals",
  unscoredInterval: "unscored intervals",
  totalCount: "total count",
  meanCountPerInterval: "mean count per interval",
  exactCountPerInterval: "exact count per interval",
  totalDuration: "total duration",
  meanDurationPerOccurrence: "mean duration per occurrence",
  kappa: "Cohen’s kappa",
};

/** A figure's name as its readers call it. */
export const agreementWords = (name: string): string => words[name] ?? name;
