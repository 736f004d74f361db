import { countedPurposes, type Purpose } from "#core/criteria/criterion.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { studentBlank } from "#core/goal-wording/blanks.ts";
import { mapTexts } from "#core/goal-wording/map-texts.ts";
import { withoutNames } from "#core/goal-wording/with-blanks.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { type Choice, choiceLists } from "#core/model/choice-lists.ts";
import type { IncidentSettings } from "#core/incidents/settings.ts";
import { weekOf } from "#core/dates/week.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { Meeting, TimetableSlot } from "#core/schedule/timetable.ts";
import type { PersonScope } from "../access/scope.ts";
import { readTimetable, readCalendar } from "./calendar.ts";
import { listOffered, starterList } from "./choices.ts";
import { listDueDays, listRecentAbsences } from "./due.ts";
import { readIncidentSettings, readStarters } from "./incident-settings.ts";
import { listGroups } from "./groups.ts";
import { type Colleague, listColleagues } from "./handovers.ts";
import { listItems, listLadders } from "./lists.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { type Student } from "#core/model/student.ts";
import { namesOf, shortName } from "#core/model/student-names.ts";
import { listCaseloadGoals, listCircleRoles, listStudentsFor } from "./students.ts";
import { listWatchedOn, type WatchedState } from "./watched-days.ts";

/** What a recording screen needs of a goal, and nothing more. Its texts say `{student}` where the student is named. */
export interface PackedGoal {
  goalId: string;
  number: string;
  title: string;
  wording: string;
  strategy: string;
  /** The criterion in words; null where there is none. */
  criterion: string | null;
  measure: Measure;
  measureVersion: number;
  planned: number | null;
  purposes: readonly Purpose[];
  /** The days on which it is due, of those ahead that are known. */
  dueOn: string[];
}

export interface PackedStudent {
  studentId: string;
  /** The alias or the initials: what recording screens show unless their person wants names. */
  screenName: string;
  calledName: string;
  goals: PackedGoal[];
  /** What an incident of theirs may be made of, most used first; starters where they have no list of their own. */
  choices: PackedChoice[];
  /** Is this person asked why they think it happened? */
  asksWhy: boolean;
  /** What was said of this day and its periods so far. */
  saidToday: SaidOfDay[];
}

/** What was said of a day, or of a period of it; empty for the whole day. */
export interface SaidOfDay {
  on: string;
  period: string;
  state: WatchedState | "absent";
}

export type PackedChoice = Pick<Choice, "choiceId" | "list" | "name" | "definition">;

/** Everything with which a device can record without a network: of each student in the person's circles, the least needed. */
export interface RecordingPack {
  format: 1;
  person: { personId: string; name: string };
  timeZone: string;
  today: string;
  students: PackedStudent[];
  groups: { groupId: string; name: string; meets: Meeting[]; studentIds: string[] }[];
  settings: string[];
  supports: string[];
  incidents: IncidentSettings;
  /** The periods of each day of the school's week. */
  timetable: TimetableSlot[];
  /** Who else records for these students, and could take this device over. */
  colleagues: Colleague[];
}

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

export async function readRecordingPack(scope: PersonScope): Promise<RecordingPack> {
  const { actor, timeZone } = scope;
  const students = await listStudentsFor(scope, "entry.record");
  const mayRecord = new Set(students.map(({ studentId }) => studentId));
  const goals = groupBy(
    (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null),
    ({ studentId }) => studentId,
  );
  const today = scope.today;
  const due = await listDueDays(scope, await readCalendar(scope), today, daysAhead);
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
    format: 1,
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
    timetable: await readTimetable(scope),
    colleagues: await listColleagues(scope),
    supports: [...new Set(ladders.flatMap(({ levels }) => levels))],
  };
}
