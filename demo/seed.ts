import { v7 } from "uuid";
import type { Criterion } from "#core/criteria/criterion.ts";
import { readEntry, type Measure } from "#core/measures/measure.ts";
import { dateOfDay, dayNumber } from "#core/progress/day-number.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { hashPassword } from "#server/auth/password.ts";
import type { Database } from "#server/db/connection.ts";
import { contentHash } from "#server/db/entries.ts";
import { rebuildSummaries } from "#server/db/summaries.ts";
import { roughlyNormal, seededRandom } from "./random.ts";
import {
  demoPassword,
  emailOf,
  type GoalStory,
  people,
  type PersonKey,
  school,
  students,
} from "./scenario.ts";

/** Days from the first school day to "today" in the story. */
const daysOfStory = 77;

type Row = Record<string, unknown>;
type Tables = Record<string, Row[]>;

export interface SeedOptions {
  /** The school's date today, `YYYY-MM-DD`: the story ends the day before. */
  today: string;
  seed?: number;
}

/** Fills an empty database with the demo school: the same seed and day give the same rows, ids included. */
export async function seedDemo(owner: Database, { today, seed = 17 }: SeedOptions): Promise<void> {
  const random = seededRandom(seed);
  const firstDay = dayNumber(today) - daysOfStory;
  const idAt = (day: number) =>
    v7({
      msecs: day * 86_400_000,
      random: Uint8Array.from({ length: 16 }, () => Math.floor(random() * 256)),
    });
  const newId = () => idAt(firstDay);
  const schoolId = newId();
  const personIds = Object.fromEntries(Object.keys(people).map((key) => [key, newId()])) as Record<
    PersonKey,
    string
  >;
  const tables: Tables = {
    schools: [{ school_id: schoolId, name: school.name, time_zone: school.timeZone }],
    people: [],
    students: [],
    circle: [],
    goals: [],
    goal_measures: [],
    goal_phases: [],
    entries: [],
    entry_revisions: [],
  };
  const add = (table: string, row: Row) => tables[table]?.push({ school_id: schoolId, ...row });
  const passwordHash = await hashPassword(demoPassword);
  const accounts: Row[] = [];
  const memberships: Row[] = [];

  for (const [key, person] of Object.entries(people) as [PersonKey, (typeof people)[PersonKey]][]) {
    const person_id = personIds[key];
    const account_id = newId();
    add("people", {
      person_id,
      given_name: person.given,
      family_name: person.family,
      position: person.position,
      role: person.role,
      email: emailOf(person),
    });
    accounts.push({ account_id, email: emailOf(person), password_hash: passwordHash });
    memberships.push({ account_id, school_id: schoolId, person_id, from_on: dateOfDay(firstDay) });
  }

  for (const story of students) {
    const student_id = newId();
    add("students", {
      student_id,
      given_name: story.given,
      family_name: story.family,
      preferred_name: story.preferred ?? null,
      grade: story.grade,
      iep_to: dateOfDay(firstDay + story.iepToDay),
    });
    const part = (key: PersonKey, name: string) =>
      add("circle", { student_id, person_id: personIds[key], part: name, from_on: dateOfDay(firstDay) });
    part("noor", "lead");
    story.record.forEach((key) => part(key, "record"));
    story.read?.forEach((key) => part(key, "read"));
    story.goals.forEach((goal, position) =>
      addGoal(goal, { student_id, position, calledName: story.preferred ?? story.given }),
    );
  }

  function addGoal(
    story: GoalStory,
    { student_id, position, calledName }: { student_id: string; position: number; calledName: string },
  ) {
    const goal_id = newId();
    const dueOn = dateOfDay(firstDay + story.dueDay);
    const measure: Measure = { kind: "trials", planned: story.opportunities };
    const criterion: Criterion | null = story.criterion && {
      value: story.criterion.value,
      direction: "increase",
      window: { k: story.criterion.k, n: story.criterion.n },
      windowUnit: "session",
      purposes: ["probe"],
    };
    add("goals", {
      goal_id,
      student_id,
      number: story.number,
      position,
      area: story.area,
      title: story.title,
      wording: story.wording.replace("{due}", dateWithYear(dueOn)).replaceAll("{name}", calledName),
      criterion: criterion && JSON.stringify(criterion),
      start_on: dateOfDay(firstDay),
      due_on: criterion ? dueOn : null,
      met_on: story.metDay === undefined ? null : dateOfDay(firstDay + story.metDay),
    });
    add("goal_measures", { goal_id, version: 1, measure: JSON.stringify(measure) });
    if (story.baseline)
      add("goal_phases", {
        phase_id: newId(),
        goal_id,
        name: "baseline",
        is_baseline: true,
        starts_on: dateOfDay(firstDay),
      });
    for (const stretch of story.stretches)
      add("goal_phases", {
        phase_id: newId(),
        goal_id,
        name: stretch.name,
        starts_on: dateOfDay(firstDay + stretch.fromDay),
      });
    for (let day = 0; day < Math.min(daysOfStory, (story.lastDay ?? daysOfStory) + 1); day += 1) {
      const level = levelOn(story, day);
      const weekday = ((firstDay + day + 3) % 7) + 1;
      // Now and then a probe is left out: an absence, an assembly, a fire drill.
      if (level === null || !story.weekdays.includes(weekday) || random() < 0.06) continue;
      addEntry(story, measure, { goal_id, student_id, day, level });
    }
  }

  function addEntry(
    story: GoalStory,
    measure: Measure,
    { goal_id, student_id, day, level }: { goal_id: string; student_id: string; day: number; level: number },
  ) {
    const wanted = ((level + (story.noise ?? 6) * roughlyNormal(random)) / 100) * story.opportunities;
    const correct = Math.min(story.opportunities, Math.max(0, Math.round(wanted)));
    const sequence = marksOf(correct, story.opportunities, random);
    const read = readEntry(measure, { kind: "trials", correct, attempted: story.opportunities, sequence });
    if (!read.ok) throw new Error("The scenario made an entry that cannot be scored");
    const hour = 9 + Math.floor(random() * 5);
    const observedLocal = `${dateOfDay(firstDay + day)}T${String(hour).padStart(2, "0")}:${String(5 * Math.floor(random() * 12)).padStart(2, "0")}`;
    const note =
      story.notes && random() < 0.22
        ? (story.notes[Math.floor(random() * story.notes.length)] ?? null)
        : null;
    const entry_id = idAt(firstDay + day);
    const author_id = personIds[story.by[Math.floor(random() * story.by.length)] ?? "noor"];
    const hash = contentHash(goal_id, { observedLocal, purpose: "probe", entry: read.entry, note });
    const observed_at = owner.raw("?::timestamp at time zone ?", [observedLocal, school.timeZone]);
    const shared = {
      entry_id,
      observed_at,
      entry: JSON.stringify(read.entry),
      score: JSON.stringify(read.score),
      note,
    };
    add("entries", {
      ...shared,
      goal_id,
      student_id,
      measure_version: 1,
      author_id,
      observed_on: observedLocal.slice(0, 10),
      purpose: "probe",
      value: read.score.value,
      numerator: read.score.numerator,
      denominator: read.score.denominator,
      made_hash: hash,
      saved_at: observed_at,
    });
    add("entry_revisions", {
      ...shared,
      revision: 1,
      act: "made",
      person_id: author_id,
      at: observed_at,
      content_hash: hash,
    });
  }

  await owner.transaction(async (trx) => {
    for (const [table, rows] of Object.entries(tables)) await trx.batchInsert(table, rows, 200);
    await trx.batchInsert("gate.accounts", accounts, 200);
    await trx.batchInsert("gate.memberships", memberships, 200);
  });
  await rebuildSummaries(owner);
}

/** The level of a goal on a day of the story, in percent; null before anything was measured. */
function levelOn(story: GoalStory, day: number): number | null {
  const index = story.stretches.findLastIndex((stretch) => stretch.fromDay <= day);
  const stretch = story.stretches[index];
  const end = story.stretches[index + 1]?.fromDay ?? daysOfStory;
  if (stretch)
    return stretch.from + ((stretch.to - stretch.from) * (day - stretch.fromDay)) / (end - stretch.fromDay);
  if (!story.baseline) return null;
  const until = story.stretches[0]?.fromDay ?? daysOfStory;
  return story.baseline.from + ((story.baseline.to - story.baseline.from) * day) / until;
}

/** Marks in some order that add up to the score. */
function marksOf(correct: number, attempted: number, random: () => number): string {
  const marks = Array.from({ length: attempted }, (_, index) => ({
    mark: index < correct ? "1" : "0",
    at: random(),
  }));
  return marks
    .sort((a, b) => a.at - b.at)
    .map(({ mark }) => mark)
    .join("");
}
