import { keepFirstRevisions } from "./revisions.ts";
import { v5 } from "uuid";
import { readEntry, type Measure } from "#core/measures/measure.ts";
import type { GoalDataEntry } from "../imports/goal-data.ts";
import type { Roster } from "../imports/roster.ts";
import type { Database, Transaction } from "./connection.ts";
import { contentHash } from "./entries.ts";

/** Makes ids of imported rows from their source, so that a row imported twice is one row. */
const fromOutside = "9d0c1f0e-6f5b-5f0a-9c53-0e4a4c9d2b11";
const idOf = (...parts: string[]) => v5(parts.join("\u001f"), fromOutside);

export interface BroughtSchool {
  schoolId: string;
  timeZone: string;
  made: boolean;
}

/** The school that is there, or one made from the roster. */
export async function ensureSchool(
  trx: Transaction,
  roster: Roster,
  timeZone: string,
): Promise<BroughtSchool> {
  const there = await trx<{ school_id: string; time_zone: string }>("schools").select(
    "school_id",
    "time_zone",
  );
  if (there.length > 1)
    throw new Error("There are several schools in this database; this command works with one.");
  if (there[0]) {
    await useSchoolDate(trx, there[0].time_zone);
    return { schoolId: there[0].school_id, timeZone: there[0].time_zone, made: false };
  }
  if (!roster.school) throw new Error("There is no school here yet, and orgs.csv names none.");
  const schoolId = idOf("school", roster.school.sourceId);
  await trx("schools").insert({ school_id: schoolId, name: roster.school.name, time_zone: timeZone });
  await useSchoolDate(trx, timeZone);
  return { schoolId, timeZone, made: true };
}

/** What is dated in this transaction is dated by the school's own day, as in `gate.begin_here`. */
async function useSchoolDate(trx: Transaction, timeZone: string): Promise<void> {
  await trx.raw("select set_config('app.today', (clock_now() at time zone ?)::date::text, true)", [timeZone]);
}

async function countInserted(work: Promise<unknown[]>): Promise<number> {
  return (await work).length;
}

/** People and students by their source ids, with the circles the roster tells of. Answers how many were new. */
export async function bringInRoster(
  trx: Transaction,
  schoolId: string,
  roster: Roster,
  leadSourceId: string | null,
): Promise<{ people: number; students: number }> {
  for (const { sourceId, email } of roster.staff) {
    if (email)
      await trx("people")
        .where({ school_id: schoolId, email })
        .whereNull("source_id")
        .update({ source_id: sourceId });
  }
  const people = await countInserted(
    trx("people")
      .insert(
        roster.staff.map(({ sourceId, given, family, preferred, email }) => ({
          school_id: schoolId,
          person_id: idOf(schoolId, "person", sourceId),
          given_name: given,
          family_name: family,
          preferred_name: preferred,
          email,
          role: "staff",
          source_id: sourceId,
        })),
      )
      .onConflict(["school_id", "source_id"])
      .ignore()
      .returning("person_id"),
  );
  const students = await countInserted(
    trx("students")
      .insert(
        roster.students.map(({ sourceId, given, family, preferred, grade }) => ({
          school_id: schoolId,
          student_id: idOf(schoolId, "student", sourceId),
          given_name: given,
          family_name: family,
          preferred_name: preferred,
          grade,
          source_id: sourceId,
        })),
      )
      .onConflict(["school_id", "source_id"])
      .ignore()
      .returning("student_id"),
  );
  const personIds = await sourceIds(trx, "people", "person_id", schoolId);
  const studentIds = await sourceIds(trx, "students", "student_id", schoolId);
  const circle = new Map<
    string,
    { school_id: string; student_id: string; person_id: string; part: "lead" | "record" }
  >();
  const add = (staff: string, student: string, part: "lead" | "record") => {
    const [person_id, student_id] = [personIds.get(staff), studentIds.get(student)];
    if (person_id && student_id)
      circle.set(`${person_id} ${student_id}`, { school_id: schoolId, student_id, person_id, part });
  };
  for (const { staff, student } of roster.teaching) add(staff, student, "record");
  if (leadSourceId !== null) for (const { sourceId } of roster.students) add(leadSourceId, sourceId, "lead");
  if (circle.size > 0)
    await trx("circle")
      .insert([...circle.values()])
      .onConflict()
      .ignore();
  return { people, students };
}

/** Our ids of what an earlier import brought in, by the id it had there. */
export async function sourceIds(
  trx: Transaction,
  table: "people" | "students",
  column: string,
  schoolId: string,
): Promise<Map<string, string>> {
  const rows = await trx<Record<string, string>>(table)
    .where({ school_id: schoolId })
    .whereNotNull("source_id")
    .select("source_id", column);
  return new Map(rows.map((row) => [row["source_id"] ?? "", row[column] ?? ""]));
}

const labelKey = "lower(regexp_replace(btrim(title), '\\s+', ' ', 'g'))";

/** The goals that are there, by student: folded title to id. */
export async function knownGoals(
  trx: Transaction,
  schoolId: string,
): Promise<Map<string, Map<string, string>>> {
  const { rows } = await trx.raw<{ rows: { student_id: string; goal_id: string; key: string }[] }>(
    `select student_id, goal_id, ${labelKey} as key from goals where school_id = ?`,
    [schoolId],
  );
  const goals = new Map<string, Map<string, string>>();
  for (const { student_id, goal_id, key } of rows)
    goals.set(student_id, (goals.get(student_id) ?? new Map<string, string>()).set(key, goal_id));
  return goals;
}

/** Makes the goals that the entries name and that are not there: measured by trials, with the label for a wording until the IEP's own comes. */
export async function ensureGoals(
  trx: Transaction,
  schoolId: string,
  entries: readonly GoalDataEntry[],
): Promise<{ goals: Map<string, Map<string, string>>; made: number }> {
  const goals = await knownGoals(trx, schoolId);
  const measure: Measure = { kind: "trials" };
  let made = 0;
  for (const { studentId, label, labelKey: key } of entries) {
    const ofStudent = goals.get(studentId) ?? new Map<string, string>();
    goals.set(studentId, ofStudent);
    if (ofStudent.has(key)) continue;
    const goal_id = idOf(schoolId, "goal", studentId, key);
    const place = ofStudent.size;
    ofStudent.set(key, goal_id);
    made += 1;
    await trx("goals").insert({
      school_id: schoolId,
      goal_id,
      student_id: studentId,
      number: String(place + 1),
      position: place,
      title: label,
      wording: label,
    });
    await trx("goal_measures").insert({
      school_id: schoolId,
      goal_id,
      version: 1,
      measure: JSON.stringify(measure),
    });
    await trx("goal_summaries").insert({ school_id: schoolId, goal_id, student_id: studentId });
  }
  return { goals, made };
}

/** Inserts the entries that are not there yet. Answers how many were. */
export async function bringInEntries(
  trx: Transaction,
  { schoolId, timeZone }: BroughtSchool,
  goals: ReadonlyMap<string, ReadonlyMap<string, string>>,
  entries: readonly GoalDataEntry[],
): Promise<number> {
  let added = 0;
  for (const {
    studentId,
    labelKey: key,
    authorId,
    correct,
    attempted,
    support,
    note,
    observedLocal,
    identity,
  } of entries) {
    const goal_id = goals.get(studentId)?.get(key);
    const read = readEntry(
      { kind: "trials" },
      { kind: "trials", correct, attempted, ...(support ? { support } : {}) },
    );
    if (!goal_id || !read.ok) throw new Error("An entry was read that cannot be kept");
    const made_hash = contentHash(goal_id, { observedLocal, purpose: "probe", entry: read.entry, note });
    const shared = {
      school_id: schoolId,
      entry_id: idOf(schoolId, "entry", identity),
      observed_at: trx.raw("?::timestamp at time zone ?", [observedLocal, timeZone]),
      entry: JSON.stringify(read.entry),
      score: JSON.stringify(read.score),
      note,
    };
    const { value, numerator, denominator } = read.score;
    const inserted = await countInserted(
      trx("entries")
        .insert({
          ...shared,
          goal_id,
          student_id: studentId,
          measure_version: 1,
          author_id: authorId,
          observed_on: observedLocal.slice(0, 10),
          purpose: "probe",
          value,
          numerator,
          denominator,
          made_hash,
        })
        .onConflict(["school_id", "entry_id"])
        .ignore()
        .returning("entry_id"),
    );
    added += inserted;
  }
  await keepFirstRevisions(trx, schoolId);
  return added;
}

/** The staff whose entries came in and who are in no circle of those students: the case manager decides about them. */
export async function authorsOutsideCircles(
  owner: Database | Transaction,
  schoolId: string,
): Promise<{ name: string; entries: number }[]> {
  const { rows } = await owner.raw<{ rows: { name: string; entries: string }[] }>(
    `select p.given_name || ' ' || p.family_name as name, count(*) as entries
     from entries e join people p on p.school_id = e.school_id and p.person_id = e.author_id
     where e.school_id = ? and not exists (select 1 from circle c
       where c.school_id = e.school_id and c.student_id = e.student_id and c.person_id = e.author_id
         and in_circle_now(c.from_on, c.to_on))
     group by 1 order by 1`,
    [schoolId],
  );
  return rows.map(({ name, entries }) => ({ name, entries: Number(entries) }));
}
