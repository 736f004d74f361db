import { formats } from "#core/sync/formats.ts";
import type { PackedChoice, RecordingPack } from "#core/sync/pack.ts";
import { countedPurposes } from "#core/criteria/criterion.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { studentBlank } from "#core/goal-wording/blanks.ts";
import { mapTexts } from "#core/goal-wording/map-texts.ts";
import { withoutNames } from "#core/goal-wording/with-blanks.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { choiceLists } from "#core/model/choice-lists.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { weekOf } from "#core/dates/week.ts";
import { noSchoolWords } from "#core/schedule/calendar.ts";
import type { PersonScope } from "../access/scope.ts";
import { readTimetable, readCalendar } from "./calendar.ts";
import { listOffered, starterList } from "./choices.ts";
import { listDueDays, listRecentAbsences } from "./due.ts";
import { readIncidentSettings, readStarters } from "./incident-settings.ts";
import { readHashedNames } from "./names.ts";
import { listJotCategories } from "./jot-categories.ts";
import { listGroups } from "./groups.ts";
import { listColleagues } from "./handovers.ts";
import { listItems, listLadders } from "./lists.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import type { Student } from "#core/model/student.ts";
import { namesOf, shortName } from "#core/model/student-names.ts";
import { listCaseloadGoals, listCircleRoles, listStudentsFor } from "./students.ts";
import { listWatchedOn } from "./watched-days.ts";

const daysAhead = 14;

/** How many opportunities one probe has, where the measure counts opportunities one by one. */
function plannedTrials({ measure, setup }: SummarisedGoal): number | null {
  if (measure.kind !== "trials" && measure.kind !== "supports") return null;
  return measure.planned ?? setup.criterion?.minimumOpportunities ?? null;
}

/** Texts in which the student is a blank. */
function unnamed<Texts extends Record<string, string>>(student: Student, texts: Texts): Texts {
  const names = namesOf(student);
  return mapTexts(texts, (text) => withoutNames(text, names, `{${studentBlank}}`));
}

/** Everything that a person's device needs to record without a network: their students and goals, in which names are blanks. */
export async function readRecordingPack(scope: PersonScope): Promise<RecordingPack> {
  const { actor, timeZone } = scope;
  const students = await listStudentsFor(scope, "entry.record");
  const mayRecord = new Set(students.map(({ studentId }) => studentId));
  const goals = groupBy(
    (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null),
    ({ studentId }) => studentId,
  );
  const today = scope.today;
  const calendar = await readCalendar(scope);
  const due = await listDueDays(scope, calendar, today, daysAhead);
  const ladders = await listLadders(scope);
  const settings = await listItems(scope, "setting");
  const offered = await listOffered(scope, weekOf(today));
  const incidents = await readIncidentSettings(scope);
  const starters = await readStarters(scope);
  const watched = groupBy(await listWatchedOn(scope, today), ({ studentId }) => studentId);
  const absences = await listRecentAbsences(scope, today);
  const roles = new Map(
    (await listCircleRoles(scope, [...mayRecord])).map(({ studentId, circleRole }) => [
      studentId,
      circleRole,
    ]),
  );
  const choicesOf = (studentId: string): PackedChoice[] => {
    const own = groupBy(offered.get(studentId) ?? [], ({ list }) => list);
    return choiceLists
      .flatMap((list) => own.get(list) ?? starterList(studentId, list, starters))
      .map(({ choiceId, list, name, definition }) => ({ choiceId, list, name, definition }));
  };
  return {
    format: formats.pack,
    person: { personId: actor.personId, name: shortName(actor.givenName, actor.familyName) },
    timeZone,
    today,
    students: students.map((student) => ({
      studentId: student.studentId,
      screenName: student.screenName,
      calledName: student.calledName,
      goals: (goals.get(student.studentId) ?? []).map((goal) => ({
        goalId: goal.goalId,
        number: goal.number,
        ...unnamed(student, { title: goal.title, wording: goal.wording, strategy: goal.strategy }),
        criterion: goal.setup.criterion && criterionWords(goal.setup.criterion, goal.measure),
        measure: goal.measure,
        measureVersion: goal.measureVersion,
        planned: plannedTrials(goal),
        purposes: countedPurposes(goal.setup.criterion),
        dueOn: due.get(goal.goalId) ?? [],
      })),
      choices: choicesOf(student.studentId),
      saidToday: [
        ...(absences.get(student.studentId)?.includes(today)
          ? [{ on: today, period: "", state: "absent" as const }]
          : []),
        ...(watched.get(student.studentId) ?? []).map(({ on, period, state }) => ({ on, period, state })),
      ],
      asksWhy:
        !incidents.off.includes("why") &&
        (incidents.whyAsked === "of everyone" || roles.get(student.studentId) === "lead"),
    })),
    groups: (await listGroups(scope))
      .map(({ groupId, name, meets, studentIds }) => ({
        groupId,
        name,
        meets,
        studentIds: studentIds.filter((studentId) => mayRecord.has(studentId)),
      }))
      .filter(({ studentIds }) => studentIds.length > 0),
    settings,
    incidents,
    jotCategories: await listJotCategories(scope),
    timetable: await readTimetable(scope),
    noSchool: Object.fromEntries(
      Array.from({ length: daysAhead }, (_, ahead) => dateOfDay(dayNumber(today) + ahead)).flatMap((date) => {
        const asked = noSchoolWords(calendar, date);
        return asked === null ? [] : [[date, asked]];
      }),
    ),
    colleagues: await listColleagues(scope),
    names: await readHashedNames(scope, [...mayRecord]),
    supports: [...new Set(ladders.flatMap(({ levels }) => levels))],
  };
}
