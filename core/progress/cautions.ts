import { median } from "simple-statistics";
import { groupBy } from "../lists/group-by.ts";
import { changesEn, type ChangesWords } from "../words/en/changes.ts";
import type { GoalPoint } from "./points.ts";
import { baselinePhase, type Progress } from "./progress.ts";

/** From five points on a phase can be relied on (What Works Clearinghouse, single-case design standards). */
const fewestToRelyOn = 5;
/** A percentage of fewer opportunities jumps. */
const fewestOpportunities = 5;
/** Agreement between observers below this is too little (the same standards). */
const leastAgreement = 80;
/** Whoever or wherever three of four points come from is who or where it was mostly. */
const mostly = 0.75;
const most = 3;

/** Who or where a phase mostly was; null where nobody and nowhere was. */
function mainly(values: readonly (string | null | undefined)[]): string | null {
  const known = values.filter((value) => typeof value === "string" && value !== "");
  const [first] = [...groupBy(known, (value) => value)].sort(([, a], [, b]) => b.length - a.length);
  return first?.[0] && first[1].length >= mostly * values.length ? first[0] : null;
}

/**
 * What to keep in mind with the figures of a goal: few, quiet, and only what is so.
 *
 * @param points in date order
 * @param agreements of sessions that two observers recorded, in percent
 * @param personName who a person of the entries is
 */
export function cautionsOf(
  {
    figures: { currentPhase },
    points,
    blank,
    agreements,
    nameOf,
    personName,
  }: {
    figures: Pick<Progress, "currentPhase">;
    points: readonly GoalPoint[];
    /** The points of the current phase that gave no figure, of how many. */
    blank?: { n: number; of: number };
    agreements: readonly number[];
    nameOf: (phase: string) => string;
    personName: (personId: string) => string;
  },
  words: ChangesWords = changesEn,
): string[] {
  const phases = [...groupBy(points, ({ phase }) => phase)];
  const at = phases.findIndex(([phase]) => phase === currentPhase);
  const [current, before] = [phases[at]?.[1] ?? [], phases[at - 1]];
  const said: string[] = [];
  if (blank && blank.n > 0) said.push(words.blankPoints(blank.n, blank.of));
  if (before) {
    const few = [
      ...(before[1].length < fewestToRelyOn ? [before] : []),
      ...(current.length < fewestToRelyOn ? [phases[at]] : []),
    ]
      .flatMap((phase) => (phase ? [phase] : []))
      .map(([phase, ones]) => ({ name: phase === baselinePhase ? null : nameOf(phase), n: ones.length }));
    if (few.length > 0) said.push(words.fewToCompare(few));
    for (const [what, of, name] of [
      ["observer", ({ entry }: GoalPoint) => entry.personId, personName],
      ["setting", ({ entry }: GoalPoint) => entry.setting, (setting: string) => setting],
    ] as const) {
      const [then, now] = [mainly(before[1].map(of)), mainly(current.map(of))];
      if (then !== null && now !== null && then !== now)
        said.push(words.changedWithPhase(what, name(then), name(now)));
    }
  }
  const opportunities = current.flatMap(({ entry }) => entry.denominator ?? []);
  if (opportunities.length > 0 && median(opportunities) < fewestOpportunities)
    said.push(words.fewOpportunities(median(opportunities)));
  if (agreements.length > 0 && median([...agreements]) < leastAgreement)
    said.push(words.lowAgreement(median([...agreements]), agreements.length, leastAgreement));
  return said.slice(0, most);
}
