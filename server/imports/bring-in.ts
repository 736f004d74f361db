import type { Database } from "../db/connection.ts";
import {
  authorsOutsideCircles,
  bringInEntries,
  bringInRoster,
  ensureGoals,
  ensureSchool,
  knownGoals,
  sourceIds,
} from "../db/imports.ts";
import { rebuildSummaries } from "../db/summaries.ts";
import { type Listed, readGoalData } from "./goal-data.ts";
import { readRoster, teacherOfAll } from "./roster.ts";

export interface BringInFiles {
  users: string;
  roles: string;
  orgs: string;
  enrollments: string;
  goalData: string;
}

export interface BroughtIn {
  people: number;
  students: number;
  goals: number;
  rows: number;
  added: number;
  alreadyThere: number;
  listed: Listed[];
  leadIsSet: boolean;
  outsideCircles: { name: string; entries: number }[];
}

/**
 * Brings a roster and a file of goal observations into the school, all or nothing. Brought in again, nothing is added.
 * The lead of every circle is the person named by e-mail or, where nobody is named, the one primary teacher of all students.
 */
export async function bringIn(
  owner: Database,
  files: BringInFiles,
  options: { timeZone: string; caseManager?: string | undefined },
): Promise<BroughtIn> {
  const roster = readRoster(files);
  const named = options.caseManager?.toLowerCase();
  const lead = named
    ? (roster.staff.find((person) => person.email === named)?.sourceId ?? null)
    : teacherOfAll(roster);
  if (named && lead === null) throw new Error(`The roster has no staff member with the e-mail ${named}.`);
  const result = await owner.transaction(async (trx) => {
    const school = await ensureSchool(trx, roster, options.timeZone);
    const { people, students } = await bringInRoster(trx, school.schoolId, roster, lead);
    const studentIds = await sourceIds(trx, "students", "student_id", school.schoolId);
    const personIds = await sourceIds(trx, "people", "person_id", school.schoolId);
    const withIds = <T extends { sourceId: string }>(list: readonly T[], ids: ReadonlyMap<string, string>) =>
      list.map((one) => ({ ...one, id: ids.get(one.sourceId) ?? "" }));
    const before = await knownGoals(trx, school.schoolId);
    const read = readGoalData(files.goalData, {
      students: withIds(roster.students, studentIds),
      staff: withIds(roster.staff, personIds),
      knownGoals: new Map([...before].map(([student, goals]) => [student, new Set(goals.keys())])),
    });
    const { goals, made } = await ensureGoals(trx, school.schoolId, read.entries);
    const added = await bringInEntries(trx, school, goals, read.entries);
    return {
      people,
      students,
      goals: made,
      rows: read.rows,
      added,
      alreadyThere: read.entries.length - added,
      listed: read.listed,
      leadIsSet: lead !== null,
      outsideCircles: await authorsOutsideCircles(trx, school.schoolId),
    };
  });
  await rebuildSummaries(owner);
  return result;
}
