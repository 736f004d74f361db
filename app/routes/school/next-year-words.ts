import { dateWithYear } from "#core/words/dates.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import type { GoalEnd, RollOver } from "#server/db/roll-over.ts";

/** What of the choice has names: for the sentences that say what will be done. */
export interface RollOverNames {
  groups: ReadonlyMap<string, string>;
  students: ReadonlyMap<
    string,
    { name: string; goals: ReadonlyMap<string, string>; people: ReadonlyMap<string, string> }
  >;
}

const endWords: Record<GoalEnd, string> = {
  met: "marked as met",
  discontinued: "discontinued",
  continued: "continued in a new goal",
};

/** What will be done, a sentence each, as it is looked through before it is done. */
export function rollOverSentences(
  { year, endedGroups, students, newGoalsFrom }: RollOver,
  named: RollOverNames,
): string[] {
  const ofStudent = (one: RollOver["students"][number]): string[] => {
    const who = named.students.get(one.studentId);
    if (!who) return [];
    const goals = (wanted: GoalEnd) => {
      const names = one.goals.flatMap(({ goalId, becomes }) =>
        becomes === wanted ? (who.goals.get(goalId) ?? []) : [],
      );
      if (names.length === 0) return [];
      const from = wanted === "continued" ? ` from ${dateWithYear(newGoalsFrom)} on` : "";
      return `${who.name}: ${listed(names)} ${plural(names.length, "is", "are")} ${endWords[wanted]}${from}.`;
    };
    const ends = one.parts.map(
      ({ personId, toOn }) =>
        `${who.name}: the part of ${who.people.get(personId) ?? ""} ends on ${dateWithYear(toOn)}.`,
    );
    return [
      ...(one.leavesOn ? [`${who.name} leaves the school on ${dateWithYear(one.leavesOn)}.`] : []),
      ...(one.grade !== null ? [`${who.name} is in grade ${one.grade || "—"}.`] : []),
      ...(["met", "continued", "discontinued"] as const).flatMap(goals),
      ...ends,
    ];
  };
  return [
    ...(year
      ? [
          `${year.name} is put into the calendar: ${dateWithYear(year.fromOn)} to ${dateWithYear(year.toOn)}, with ${year.reportingPeriods.length} reporting ${plural(year.reportingPeriods.length, "period")} and ${year.closures.length} ${plural(year.closures.length, "closure")}.`,
        ]
      : []),
    ...endedGroups.map((groupId) => `${named.groups.get(groupId) ?? "A group"} meets no longer.`),
    ...students.flatMap(ofStudent),
  ];
}
