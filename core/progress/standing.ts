import type { Criterion } from "../criteria/criterion.ts";
import type { Mastery } from "../criteria/mastery.ts";
import { shortDate } from "../words/dates.ts";
import { thresholdWords } from "../criteria/criterion-words.ts";
import { slopeSize } from "../words/amounts.ts";
import { capitalise, countWord, plural } from "../words/numbers.ts";
import type { Progress } from "./progress.ts";

export type StandingKey = "met" | "ahead" | "on" | "behind" | "too-few" | "no-line";

export interface Standing {
  key: StandingKey;
  /** "Ahead of the line" */
  word: string;
  /** Why, with its counts, in a sentence or two. */
  why: string;
}

const standingWords: Record<StandingKey, string> = {
  met: "Met",
  ahead: "Ahead of the line",
  on: "On the line",
  behind: "Behind the line",
  "too-few": "Too few points",
  "no-line": "No aim line",
};

export type StandingFacts = Pick<
  Progress,
  "nInPhase" | "fourPoint" | "medianDifference" | "mastery" | "aim" | "slopePerWeek"
>;

function keyOf(facts: StandingFacts, criterion: Criterion | null, metOn: string | null): StandingKey {
  const held = facts.mastery === null || facts.mastery.inWindow >= facts.mastery.needed;
  if (metOn !== null && held) return "met";
  if (facts.nInPhase < 4) return "too-few";
  if (facts.aim === null || criterion === null || facts.fourPoint === null) return "no-line";
  if (facts.fourPoint === "ahead" || facts.fourPoint === "behind") return facts.fourPoint;
  const sign = criterion.direction === "increase" ? 1 : -1;
  const steeper = facts.slopePerWeek === null ? 0 : sign * (facts.slopePerWeek - facts.aim.slopePerWeek);
  const side = facts.medianDifference ?? 0;
  if (side > 0 && steeper > 0) return "ahead";
  if (side < 0 && steeper < 0) return "behind";
  return "on";
}

/** "Rising 5½ points a week", "Falling 4 s a week"; level when the slope rounds to nothing. */
export function slopeWords(slopePerWeek: number | null, unit: string): string | null {
  if (slopePerWeek === null) return null;
  const size = slopeSize(Math.abs(slopePerWeek), unit);
  return size === null ? "Level" : `${slopePerWeek > 0 ? "Rising" : "Falling"} ${size} a week`;
}

function lineSentence(facts: StandingFacts, key: StandingKey): string | null {
  if (key === "too-few") {
    return facts.nInPhase === 0
      ? "Nothing has been recorded in this phase yet."
      : `${capitalise(countWord(facts.nInPhase))} ${plural(facts.nInPhase, "point")} in this phase; four are needed to say more.`;
  }
  if (key === "no-line")
    return "Without a baseline, a criterion and a due date there is no aim line to compare with.";
  if (facts.fourPoint === "ahead") return "4 of the last 4 points lie on the better side of the aim line.";
  if (facts.fourPoint === "behind") return "4 of the last 4 points lie on the worse side of the aim line.";
  if (key === "ahead")
    return "The last points lie mostly on the better side of the aim line, and the trend is better than it asks.";
  if (key === "behind")
    return "The last points lie mostly on the worse side of the aim line, and the trend is short of what it asks.";
  return facts.fourPoint === "mixed" ? "The last four points lie around the aim line." : null;
}

/** What a criterion in several settings or with several people still asks for. */
function breadthSentence({ settings, people }: Mastery): string | null {
  const missing = [
    settings && settings.seen < settings.needed
      ? `${countWord(settings.seen)} of ${countWord(settings.needed)} settings`
      : null,
    people && people.seen < people.needed
      ? `${countWord(people.seen)} of ${countWord(people.needed)} people`
      : null,
  ].filter((part) => part !== null);
  return missing.length === 0 ? null : `It has been met in ${missing.join(" and with ")} so far.`;
}

/** What the criterion still asks for: "2 of the last 4 sessions met 80 %; one more is needed." */
export function criterionSentence(
  facts: StandingFacts,
  criterion: Criterion | null,
  unit: string,
): string | null {
  const { mastery } = facts;
  if (!criterion || !mastery) return null;
  const { k, n } = criterion.window;
  const occasion = criterion.windowUnit;
  const threshold = `${thresholdWords(criterion, unit)}${criterion.joined?.length ? " and what is joined to it" : ""}`;
  const last = n === 1 ? `the last ${occasion}` : `the last ${countWord(n)} ${occasion}s`;
  const missing = k - mastery.inWindow;
  const said =
    n === 1
      ? `${last} ${mastery.inWindow === 1 ? "met" : "did not meet"} ${threshold}`
      : `${countWord(mastery.inWindow)} of ${last} met ${threshold}`;
  const breadth = breadthSentence(mastery);
  // Where nothing has been recorded yet, nothing has failed to meet it either.
  if (!mastery.met && facts.nInPhase === 0 && mastery.inWindow === 0) return null;
  if (mastery.met)
    return `Criterion ${missing <= 0 ? "" : "was "}reached on ${shortDate(mastery.on ?? "")}${missing <= 0 ? "" : " and is not held now"}: ${said}.`;
  if (missing <= 0 || n === 1) return [`${capitalise(said)}.`, breadth].filter(Boolean).join(" ");
  const none = mastery.inWindow === 0;
  const needed = none ? k : missing;
  return [
    `${capitalise(said)}${none ? " yet" : ""}; ${countWord(needed)} ${none ? "" : "more "}${plural(needed, "is", "are")} needed.`,
    breadth,
  ]
    .filter(Boolean)
    .join(" ");
}

/**
 * Where a goal stands, in one of six words, and why.
 *
 * Met if the case manager confirmed it and it is still held; too few points under four in the current phase; ahead of or
 * behind the line by the four-point rule or, where that is mixed, when both the median of the last four differences from
 * the aim line and the trend against the aim line's slope say so; else on the line. Without an aim line no line word.
 *
 * @param metOn the date on which the case manager confirmed the goal as met
 * @param unit of the measure's value
 *
 * Source: four-point and trend rule of the National Center on Intensive Intervention's training, from memory; combining
 * them where the four-point rule is mixed is ours.
 */
export function standingFrom(
  facts: StandingFacts,
  criterion: Criterion | null,
  metOn: string | null,
  unit = "percent",
): Standing {
  const key = keyOf(facts, criterion, metOn);
  const sentences = [
    key === "met" ? `Confirmed on ${shortDate(metOn ?? "")}.` : lineSentence(facts, key),
    criterionSentence(facts, criterion, unit),
  ];
  return { key, word: standingWords[key], why: sentences.filter(Boolean).join(" ") };
}
