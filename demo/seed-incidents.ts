import type { PlanContent } from "#core/model/plan.ts";
import { starterChoices } from "#core/incidents/starter-choices.ts";
import { type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import { weekdayOf } from "#core/dates/day-number.ts";
import { starterList } from "#server/db/choices.ts";
import { incidentHash, type StoredContent } from "#server/db/incidents.ts";
import { type IncidentStory, makeIncidents } from "./incidents.ts";
import { lists, type PersonKey } from "./school.ts";

/** Adds one student's choice lists, incidents and watched days to the rows of the demo. */
export function seedIncidents(
  story: IncidentStory,
  {
    add,
    random,
    studentId,
    personIds,
    days,
    dateOf,
    isOff,
    idAt,
    momentOf,
  }: {
    add: (table: string, row: Record<string, unknown>) => void;
    random: () => number;
    studentId: string;
    personIds: Record<PersonKey, string>;
    days: number;
    dateOf: (day: number) => string;
    isOff: (day: number) => boolean;
    idAt: (day: number) => string;
    /** The moment of a time of the school, as the database takes it. */
    momentOf: (local: string) => unknown;
  },
): void {
  const made = makeIncidents(story, { days, weekdayOf: (day) => weekdayOf(dateOf(day)), isOff, random });
  const ids = new Map<string, string>();
  for (const list of choiceLists) {
    const starters = starterList(studentId, list, { ...starterChoices, setting: lists.setting });
    const names = new Set([...starters.map(({ name }) => name), ...made.flatMap((one) => one.names[list])]);
    [...names].forEach((name, position) => {
      const choice_id = starters.find((one) => one.name === name)?.choiceId ?? idAt(0);
      ids.set(`${list} ${name}`, choice_id);
      add("choices", {
        ...{ choice_id, student_id: studentId, list, name, position },
        definition: list === "behavior" ? (story.definitions[name] ?? null) : null,
      });
    });
  }
  const idsOf = (names: Record<ChoiceList, string[]>) =>
    Object.fromEntries(
      Object.entries(names).map(([list, ones]) => [
        list,
        ones.flatMap((name) => ids.get(`${list} ${name}`) ?? []),
      ]),
    ) as Record<ChoiceList, string[]>;
  for (const { day, at, by, names, details, note } of made) {
    const incident_id = idAt(day);
    const content: StoredContent = { choices: idsOf(names), details, ongoing: false, observerId: null };
    const local = `${dateOf(day)}T${at}`;
    const hash = incidentHash({ local }, content, note);
    const shared = {
      incident_id,
      occurred_on: dateOf(day),
      occurred_at: momentOf(local),
      content: JSON.stringify(content),
      note,
    };
    add("incidents", {
      ...shared,
      student_id: studentId,
      author_id: personIds[by],
      made_hash: hash,
      saved_at: shared.occurred_at,
    });
    for (const choice_id of new Set(Object.values(content.choices).flat()))
      add("incident_choices", { incident_id, choice_id });
  }
  if (story.plan) {
    const { fromDay, by, ...words } = story.plan;
    const plan_id = idAt(fromDay);
    const plan = { plan_id, ...words, begins_on: dateOf(fromDay) };
    add("plans", { ...plan, student_id: studentId, author_id: personIds[by] });
    add("revisions", {
      ...{ thing: "plan", thing_id: plan_id, revision: 1, act: "made", person_id: personIds[by] },
      content: JSON.stringify({ ...words, beginsOn: plan.begins_on, endsOn: null } satisfies PlanContent),
    });
  }
  // On most days somebody says at the end that nothing happened; on some nobody does.
  for (let day = 0; day < days; day += 1) {
    const said = random();
    if (isOff(day) || weekdayOf(dateOf(day)) > 5 || said > 0.86 || made.some((one) => one.day === day))
      continue;
    add("watched_days", {
      ...{ student_id: studentId, watched_on: dateOf(day), marked_by: personIds[story.by[0] ?? "noor"] },
      state: said > 0.82 ? "not observed" : "none",
    });
  }
}
