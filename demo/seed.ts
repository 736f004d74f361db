import type { RevisedContent } from "#core/model/revision.ts";
import { keepFirstRevisions } from "#server/db/revisions.ts";
import { v7 } from "uuid";
import type { Criterion } from "#core/criteria/criterion.ts";
import { readEntry, type Measure } from "#core/measures/measure.ts";
import { weekOf } from "#core/dates/week.ts";
import { dateOfDay, dayNumber, weekdayOf } from "#core/dates/day-number.ts";
import { slotsOf } from "#core/schedule/timetable.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { hashPassword } from "#server/auth/password.ts";
import type { PersonActor } from "#server/access/actor.ts";
import type { Database } from "#server/db/connection.ts";
import { contentHash } from "#server/db/entries.ts";
import { rebuildSummaries } from "#server/db/summaries.ts";
import { ladders } from "./measures.ts";
import { incidentStories } from "./incidents.ts";
import { observed } from "./observed.ts";
import { roughlyNormal, seededRandom } from "./random.ts";
import { type GoalStory, type StudentStory, students } from "./scenario.ts";
import {
  demoPassword,
  emailOf,
  groups,
  lists,
  people,
  type PersonKey,
  school,
  timetable,
  year,
} from "./school.ts";

import { seedAccess } from "./seed-access.ts";
import { seedEditions } from "./seed-editions.ts";
import { seedJots } from "./seed-jots.ts";
import { seedRatings } from "./seed-ratings.ts";
import { seedFamily } from "./seed-family.ts";
import { seedMessages } from "./seed-messages.ts";
import { seedStatements } from "./seed-statements.ts";
import { seedIncidents } from "./seed-incidents.ts";
import { templates } from "./templates.ts";

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
  let random = seededRandom(seed);
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
    ladders: [],
    school_lists: [],
    school_years: [],
    reporting_periods: [],
    closures: [],
    timetable: [],
    people: [],
    students: [],
    groups: [],
    group_members: [],
    goal_templates: [],
    absences: [],
    circle: [],
    goals: [],
    goal_measures: [],
    goal_phases: [],
    entries: [],
    choices: [],
    incidents: [],
    incident_choices: [],
    watched_days: [],
    plans: [],
    second_observations: [],
    jot_categories: [],
    jots: [],
    pictures: [],
    revisions: [],
  };
  const add = (table: string, row: Row) => tables[table]?.push({ school_id: schoolId, ...row });
  const passwordHash = await hashPassword(demoPassword);
  const accounts: Row[] = [];
  const memberships: Row[] = [];

  Object.values(ladders).forEach(({ name, levels, misses }, position) =>
    add("ladders", {
      ladder_id: newId(),
      name,
      levels: JSON.stringify(levels),
      misses: JSON.stringify(misses),
      position,
    }),
  );
  for (const [list, names] of Object.entries(lists))
    names.forEach((name, position) => add("school_lists", { list, item_id: newId(), name, position }));

  // What came into the story after its first numbers has ids of another stream, so that those numbers stay.
  const firstMonday = dayNumber(weekOf(dateOfDay(firstDay)));
  const apart = seededRandom(seed + 1);
  const laterId = () =>
    v7({
      msecs: firstDay * 86_400_000,
      random: Uint8Array.from({ length: 16 }, () => Math.floor(apart() * 256)),
    });
  const span = ({ name, fromDay, toDay }: { name: string; fromDay: number; toDay: number }) => ({
    name,
    from_on: dateOfDay(Math.max(firstDay, firstMonday + fromDay)),
    to_on: dateOfDay(firstMonday + toDay),
  });
  const isClosed = (day: number) =>
    year.closures.some(
      ({ fromDay, toDay }) =>
        firstMonday + fromDay <= firstDay + day && firstDay + day <= firstMonday + toDay,
    );
  const [first, last] = [dateOfDay(firstDay), dateOfDay(firstMonday + year.lastDay)];
  const yearName = `${first.slice(0, 4)}–${last.slice(2, 4)}`;
  add("school_years", { year_id: laterId(), ...span({ name: yearName, fromDay: 0, toDay: year.lastDay }) });
  for (const period of year.reportingPeriods)
    add("reporting_periods", { period_id: laterId(), ...span(period) });
  for (const closure of year.closures) add("closures", { closure_id: laterId(), ...span(closure) });
  for (const { weekday, name, startsAt, endsAt } of slotsOf(timetable))
    add("timetable", { slot_id: laterId(), weekday, name, starts_at: startsAt, ends_at: endsAt });

  for (const [key, person] of Object.entries(people) as [PersonKey, (typeof people)[PersonKey]][]) {
    const person_id = personIds[key];
    const account_id = newId();
    add("people", {
      person_id,
      given_name: person.given,
      family_name: person.family,
      position: person.position,
      role: person.role,
      case_manager: key === "noor",
      email: emailOf(person),
      trail_over: true,
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
    story.goals.forEach((goal, position) => {
      const shared = random;
      if (goal.own !== undefined) random = seededRandom(goal.own + seed);
      addGoal(goal, {
        student_id,
        position,
        calledName: story.preferred ?? story.given,
        iepToDay: story.iepToDay,
      });
      random = shared;
    });
    addAbsences(story, student_id);
  }

  const incidentRandom = seededRandom(seed + 2);
  for (const story of incidentStories) {
    const student = tables["students"]?.find(({ given_name }) => given_name === story.given);
    if (!student) throw new Error(`The scenario has no ${story.given}`);
    const away = new Set(
      tables["absences"]?.flatMap((one) =>
        one["student_id"] === student["student_id"] ? one["absent_on"] : [],
      ),
    );
    seedIncidents(story, {
      add,
      random: incidentRandom,
      studentId: String(student["student_id"]),
      personIds,
      days: daysOfStory,
      dateOf: (day) => dateOfDay(firstDay + day),
      isOff: (day) => isClosed(day) || away.has(dateOfDay(firstDay + day)),
      idAt: (day) =>
        v7({
          msecs: (firstDay + day) * 86_400_000,
          random: Uint8Array.from({ length: 16 }, () => Math.floor(incidentRandom() * 256)),
        }),
      momentOf: (local) => owner.raw("?::timestamp at time zone ?", [local, school.timeZone]),
    });
  }

  // What came in later has streams of its own too.
  const jotRandom = seededRandom(seed + 3);
  const jotIdAt = (day: number) =>
    v7({
      msecs: (firstDay + day) * 86_400_000,
      random: Uint8Array.from({ length: 16 }, () => Math.floor(jotRandom() * 256)),
    });
  const momentOf = (local: string) => owner.raw("?::timestamp at time zone ?", [local, school.timeZone]);
  /** The last school day up to a day of the story. */
  const schoolDay = (day: number) => {
    let on = day;
    while (on > 0 && (isClosed(on) || weekdayOf(dateOfDay(firstDay + on)) > 5)) on -= 1;
    return on;
  };
  await seedJots({
    ...{ add, newId: () => jotIdAt(0), idAt: jotIdAt, personIds, momentOf },
    studentIdOf: (given) =>
      String(tables["students"]?.find(({ given_name }) => given_name === given)?.["student_id"]),
    dateOf: (day) => dateOfDay(firstDay + day),
    schoolDay,
  });
  seedRatings({
    ...{ add, random: jotRandom, idAt: jotIdAt, personIds },
    goals: tables["goals"] ?? [],
    measures: tables["goal_measures"] ?? [],
    entries: tables["entries"] ?? [],
    dayOf: (on) => dayNumber(on) - firstDay,
    momentOf,
  });

  for (const group of groups) {
    const group_id = laterId();
    add("groups", { group_id, name: group.name, meets: JSON.stringify(slotsOf(group.meets)) });
    for (const given of group.students) {
      const student = tables["students"]?.find(({ given_name }) => given_name === given);
      if (!student) throw new Error(`The scenario has no ${given}`);
      add("group_members", { group_id, student_id: student["student_id"] });
    }
  }

  for (const { by, setUp, ...words } of templates)
    add("goal_templates", {
      template_id: laterId(),
      ...words,
      set_up: JSON.stringify(setUp),
      made_by: personIds[by],
    });

  function addGoal(
    story: GoalStory,
    {
      student_id,
      position,
      calledName,
      iepToDay,
    }: { student_id: string; position: number; calledName: string; iepToDay: number },
  ) {
    const goal_id = newId();
    const dueOn = dateOfDay(firstDay + story.dueDay);
    const measure: Measure = story.measure ?? { kind: "trials", planned: story.opportunities };
    const wording = story.wording.replace("{due}", dateWithYear(dueOn)).replaceAll("{name}", calledName);
    const criterion: Criterion | null = story.criterion && criterionOf(story.criterion);
    add("goals", {
      goal_id,
      student_id,
      number: story.number,
      position,
      area: story.area,
      title: story.title,
      wording,
      criterion: criterion && JSON.stringify(criterion),
      start_on: dateOfDay(firstDay),
      annual_review_on: dateOfDay(firstDay + iepToDay),
      schedule: story.weekdays.length > 0 ? JSON.stringify({ weekdays: story.weekdays }) : null,
      measured_by: personIds[story.by[0] ?? "noor"],
      strategy: story.strategy ?? "",
      due_on: criterion ? dueOn : null,
      met_on: story.metDay === undefined ? null : dateOfDay(firstDay + story.metDay),
    });
    const from_at = new Date(firstDay * 86_400_000);
    add("goal_measures", { goal_id, version: 1, measure: JSON.stringify(measure), from_at });
    add("revisions", {
      ...{ thing: "goal", thing_id: goal_id, revision: 1, act: "made", person_id: personIds.noor },
      at: owner.raw("?::timestamp at time zone ?", [`${dateOfDay(firstDay)}T08:00`, school.timeZone]),
      content: JSON.stringify({
        fromOn: dateOfDay(firstDay),
        setUp: {
          ...{ number: story.number, title: story.title, area: story.area, wording, criterion, measure },
          dueOn: criterion ? dueOn : null,
        },
      } satisfies RevisedContent["goal"]),
    });
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
      if (level === null || !story.weekdays.includes(weekday) || (random() < 0.06 && !story.always)) continue;
      addEntry(story, measure, { goal_id, student_id, day, level });
    }
  }

  /** A day on which several goals of a student were due and none was measured: the student was away. */
  function addAbsences(story: StudentStory, student_id: string) {
    const measured = new Set(
      tables["entries"]?.flatMap((entry) => (entry["student_id"] === student_id ? entry["observed_on"] : [])),
    );
    for (let day = 0; day < daysOfStory; day += 1) {
      const weekday = ((firstDay + day + 3) % 7) + 1;
      const due = story.goals.filter(
        (goal) =>
          goal.weekdays.includes(weekday) &&
          levelOn(goal, day) !== null &&
          day <= (goal.lastDay ?? daysOfStory),
      );
      const absent_on = dateOfDay(firstDay + day);
      if (due.length > 0 && !isClosed(day) && !measured.has(absent_on))
        add("absences", { student_id, absent_on, person_id: personIds.noor });
    }
  }

  function addEntry(
    story: GoalStory,
    measure: Measure,
    { goal_id, student_id, day, level }: { goal_id: string; student_id: string; day: number; level: number },
  ) {
    const { from, to } = story.alone ?? { from: 0, to: 0 };
    const alone = story.alone ? from + ((to - from) * day) / daysOfStory : null;
    const about = level + (story.noise ?? 6) * roughlyNormal(random);
    const read = readEntry(measure, observed(measure, about, random, { spread: story.spread ?? [], alone }));
    if (!read.ok) throw new Error("The scenario made an entry that cannot be scored");
    const hour = 9 + Math.floor(random() * 5);
    const observedLocal = `${dateOfDay(firstDay + day)}T${String(hour).padStart(2, "0")}:${String(5 * Math.floor(random() * 12)).padStart(2, "0")}`;
    const note =
      story.notes && random() < 0.22
        ? (story.notes[Math.floor(random() * story.notes.length)] ?? null)
        : null;
    const entry_id = idAt(firstDay + day);
    const author_id = personIds[story.by[Math.floor(random() * story.by.length)] ?? "noor"];
    if (isClosed(day)) return;
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
  }

  await owner.transaction(async (trx) => {
    for (const [table, rows] of Object.entries(tables)) await trx.batchInsert(table, rows, 200);
    await keepFirstRevisions(trx, schoolId);
    await trx.batchInsert("gate.accounts", accounts, 200);
    await trx.batchInsert("gate.memberships", memberships, 200);
  });
  await rebuildSummaries(owner);
  const actorOf = (person: PersonKey): PersonActor => ({
    // The owner writes a whole school and enters none, so that no session is asked for.
    ...{ kind: "person", session: Buffer.alloc(32), schoolId, personId: personIds[person], role: "staff" },
    caseManager: person === "noor",
    ...{ givenName: people[person].given, familyName: people[person].family, schoolName: school.name },
    ...{
      timeZone: school.timeZone,
      locale: "en-US",
      schools: 1,
      isDistrict: false,
      missesStep: false,
      trailOver: true,
    },
  });
  await owner.transaction(async (trx) => {
    await seedEditions(trx, {
      ...{ schoolId, firstDay, schoolDay, newId: jotIdAt },
      actor: actorOf("noor"),
      students: (tables["students"] ?? []).map(({ student_id, given_name }) => ({
        ...{ studentId: String(student_id), given: String(given_name) },
      })),
    });
    await seedFamily(trx, {
      ...{ schoolId, firstDay, passwordHash, noorId: personIds.noor, newId: jotIdAt },
      day: schoolDay(daysOfStory - 1),
      studentOf: (given) =>
        String(tables["students"]?.find(({ given_name }) => given_name === given)?.["student_id"]),
    });
    await seedStatements(trx, {
      ...{ schoolId, firstDay, actorOf, personIds, newId: jotIdAt, day: schoolDay(daysOfStory - 1) },
      goalOf: (given, number) => {
        const student = tables["students"]?.find(({ given_name }) => given_name === given);
        const goal = tables["goals"]?.find(
          (one) => one["student_id"] === student?.["student_id"] && one["number"] === number,
        );
        if (!goal) throw new Error(`The scenario has no goal ${number} of ${given}`);
        return { studentId: String(goal["student_id"]), goalId: String(goal["goal_id"]) };
      },
    });
    const dayBefore = (days: number) =>
      Array.from({ length: days }).reduce<number>((day) => schoolDay(day - 1), schoolDay(daysOfStory - 1));
    await seedMessages(trx, { ...{ schoolId, firstDay, personIds, newId: jotIdAt }, dayBefore });
    const wren = tables["students"]?.find(({ given_name }) => given_name === "Wren");
    await seedAccess(trx, {
      ...{ schoolId, firstDay, personIds, newId: jotIdAt, dayBefore },
      wrenId: String(wren?.["student_id"]),
    });
  });
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

function criterionOf({ k, n, ...story }: NonNullable<GoalStory["criterion"]>): Criterion {
  return {
    direction: "increase",
    windowUnit: "session",
    purposes: ["probe"],
    ...story,
    window: { k, n },
  };
}
