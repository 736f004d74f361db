import { counts, percent } from "../words/numbers.ts";
import { otherOutcome } from "./outcomes/other-outcome.ts";
import { detailsOf } from "./details-of.ts";
import type { Measure, ObservedEntry } from "./measure.ts";

/** An entry as the history of its parts needs it. */
export interface PartSource {
  date: string;
  entryId: string;
  measure: Measure;
  entry: ObservedEntry;
}

export interface PartMark {
  date: string;
  entryId: string;
  said: string;
  credited: number;
  of: number;
}

/** One sub-skill, item, step, prompt level, criterion or outcome over time. */
export interface PartHistory {
  part: string;
  credited: number;
  of: number;
  /** Oldest first. */
  marks: PartMark[];
}

/**
 * What each part of a measure showed over time, in the order of the measure as it stands now; parts that only an earlier
 * version had follow after. A part that was not marked in an entry has no mark for it: not measured is not zero.
 *
 * @param sources entries in the order observed, each with the measure it was recorded for; unfinished grids included
 * @param renamed earlier name → the name it has now, so that a part that was renamed keeps its history
 *
 * @example a checklist with *ladle* known 3 of 3 times: {part: "ladle", credited: 3, of: 3, marks: [three]}
 */
export function partHistory(
  measure: Measure,
  sources: readonly PartSource[],
  renamed: ReadonlyMap<string, string> = new Map(),
): PartHistory[] {
  const histories = new Map<string, PartHistory>();
  const historyOf = (part: string) => {
    const found = histories.get(part) ?? { part, credited: 0, of: 0, marks: [] };
    histories.set(part, found);
    return found;
  };
  partNames(measure).forEach(historyOf);
  for (const { date, entryId, measure, entry } of sources) {
    for (const { part, said, credited, of } of detailsOf(measure).parts(measure, entry)) {
      const history = historyOf(renamed.get(part) ?? part);
      history.credited += credited;
      history.of += of;
      history.marks.push({ date, entryId, said, credited, of });
    }
  }
  // What else happened is a part only where it did.
  return [...histories.values()].filter(
    ({ part, credited }) => measure.kind !== "outcomes" || part !== otherOutcome || credited > 0,
  );
}

/** The names of a measure's parts, in its order. */
export function partNames(measure: Measure): string[] {
  switch (measure.kind) {
    case "supports":
      return [...measure.levels, ...measure.misses];
    case "skills":
      return measure.skills;
    case "checklist":
      return measure.items;
    case "steps":
      return measure.steps;
    case "rubric":
      return measure.criteria.map(({ id, label }) => label ?? id);
    case "outcomes":
      return measure.outcomes.map(({ id, label }) => label ?? id);
    default:
      return [];
  }
}

/**
 * Parts that were renamed between two versions of a measure: in lists of the same length, another name at the same place
 * that neither list has elsewhere.
 *
 * @returns earlier name → later name
 */
export function renamedParts(before: Measure, after: Measure): Record<string, string> {
  const [old, now] = [partNames(before), partNames(after)];
  if (before.kind !== after.kind || old.length !== now.length) return {};
  return Object.fromEntries(
    old.flatMap((name, index) => {
      const next = now[index] ?? name;
      return name !== next && !now.includes(name) && !old.includes(next) ? [[name, next]] : [];
    }),
  );
}

/** "known 3 of 3 times", "verbal or less help 2 of 5 times", "31% of the opportunities (11 of 35)" */
export function partWords(measure: Measure, { credited, of }: Pick<PartHistory, "credited" | "of">): string {
  const means = detailsOf(measure).creditedMeans(measure);
  if (of === 0) return "not measured yet";
  if (means.startsWith("of the"))
    return `${percent((100 * credited) / of)} ${means} (${counts(credited, of)})`;
  return `${means} ${counts(credited, of)} ${of === 1 ? "time" : "times"}`;
}

/**
 * Which parts carry the result and which hold it back: "*ladle* known 3 of 3 times; *colander* 0 of 3". Null below two
 * measured parts, or where all stand alike.
 */
export function partSentence(
  measure: Measure,
  histories: readonly PartHistory[],
): { best: string; bestWords: string; least: string; leastWords: string } | null {
  const measured = histories.filter(({ of }) => of > 0);
  const share = ({ credited, of }: PartHistory) => credited / of;
  const ordered = [...measured].sort((a, b) => share(b) - share(a));
  const [best, least] = [ordered[0], ordered.at(-1)];
  if (!best || !least || ordered.length < 2 || share(best) === share(least)) return null;
  return {
    best: best.part,
    bestWords: partWords(measure, best),
    least: least.part,
    leastWords: partWords(measure, least),
  };
}
