import { v7 as newId } from "uuid";
import { localMoment } from "#core/dates/school-time.ts";
import type { Language } from "#core/words/en.ts";
import type { LinkActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { keyIn } from "./app-key.ts";
import { recordEvent } from "./events.ts";
import { freeHeld, isStuckMessage } from "./messages.ts";

/** A guardian as a case manager writes one down. */
export interface GuardianContent {
  name: string;
  /** "mother", "foster father" */
  relation: string;
  email: string | null;
  language: Language;
  /** Have they agreed to be written to by e-mail? Codes that they ask for are sent all the same. */
  hasAgreed: boolean;
}

/** A guardian of a student, and how they can read. Moments are the school's own, `YYYY-MM-DDTHH:MM`. */
export interface Guardian extends GuardianContent {
  guardianId: string;
  /** Why they may see nothing; null where they may. For staff only. */
  noAccessReason: string | null;
  linkUntil: string | null;
  hasAccount: boolean;
  /** When they last had the family's page open. */
  lastOpened: string | null;
  opened: number;
  /** Is it known that the address is theirs: by a code that was mailed there, or because a member of staff has checked it? */
  isConfirmed: boolean;
  /** The answer of a mail server that refused the address. */
  refusedWith: string | null;
}

/** A question of a guardian, and its answer. */
export interface FamilyQuestion {
  questionId: string;
  guardianId: string;
  by: string;
  words: string;
  askedAt: string;
  answer: string | null;
  answeredAt: string | null;
}

/** The guardians of a student, as staff sees them. Those who were removed are left out. */
export async function listGuardians(scope: PersonScope, studentId: string): Promise<Guardian[]> {
  const { rows } = await scope.trx.raw<{
    rows: {
      guardian_id: string;
      name: string;
      relation: string;
      email: string | null;
      language: Language;
      no_access_reason: string | null;
      link_until: Date | null;
      has_account: boolean;
      last_opened: Date | null;
      opened: number;
      has_agreed: boolean;
      is_confirmed: boolean;
      answer: string | null;
    }[];
  }>(
    `select g.guardian_id, g.name, g.relation, g.email, g.language, g.no_access_reason, f.link_until, f.has_account,
       o.last_opened, o.opened, g.mail_agreed_on is not null as has_agreed,
       coalesce(g.confirmed_email = lower(g.email), false) as is_confirmed, w.answer
     from guardians g
     left join wrong_addresses w on w.school_id = g.school_id and w.email = lower(g.email)
     join gate.families_here(:studentId) f on f.guardian_id = g.guardian_id
     cross join lateral (select max(a.at) as last_opened, count(*)::int as opened from audit a
       where a.school_id = g.school_id and a.student_id = g.student_id and a.thing = 'guardian' and a.thing_id = g.guardian_id
         and a.act = 'opened') o
     where g.school_id = :schoolId and g.student_id = :studentId and g.removed_at is null
     order by g.name, g.guardian_id`,
    { schoolId: scope.schoolId, studentId },
  );
  const local = (moment: Date | null) => moment && localMoment(scope.timeZone, moment.getTime());
  return rows.map((row) => ({
    ...{ guardianId: row.guardian_id, name: row.name, relation: row.relation, email: row.email },
    ...{ language: row.language, noAccessReason: row.no_access_reason, hasAccount: row.has_account },
    ...{ linkUntil: local(row.link_until), lastOpened: local(row.last_opened), opened: row.opened },
    ...{ hasAgreed: row.has_agreed, isConfirmed: row.is_confirmed, refusedWith: row.answer },
  }));
}

const keyOf = ({ schoolId }: Scope, studentId: string, guardianId: string) => ({
  ...{ school_id: schoolId, student_id: studentId, guardian_id: guardianId },
});

/** Writes a guardian down, new or changed. */
export async function saveGuardian(
  scope: PersonScope,
  studentId: string,
  guardianId: string | null,
  { name, relation, email, language, hasAgreed }: GuardianContent,
): Promise<string> {
  requirePermission(scope, "family.edit");
  const agreed = hasAgreed ? scope.trx.raw("coalesce(mail_agreed_on, ?)", [scope.today]) : null;
  const content = { name, relation, email, language };
  const made = guardianId ?? newId();
  if (guardianId === null)
    await scope.trx("guardians").insert({
      ...keyOf(scope, studentId, made),
      ...content,
      person_id: scope.actor.personId,
      mail_agreed_on: hasAgreed ? scope.today : null,
    });
  else {
    const [before] = await scope
      .trx<{ email: string | null }>("guardians")
      .where(keyOf(scope, studentId, guardianId))
      .select("email");
    if (!before) notFound();
    await scope
      .trx("guardians")
      .where(keyOf(scope, studentId, guardianId))
      .update({ ...content, mail_agreed_on: agreed });
    // A link that was made for one address is not opened by codes sent to another.
    if (before.email !== email) {
      await scope.trx.raw("select gate.end_family(?, false)", [guardianId]);
      await freeHeld(scope, guardianId, ["wrong address", "no address", "not confirmed"]);
    }
  }
  await recordEvent(scope, {
    ...{ thing: "guardian", act: guardianId === null ? "made" : "changed" },
    ...{ thingId: made, studentId },
  });
  return made;
}

/** Notes that a member of staff has checked a guardian's address: what was held for that is sent. */
export async function confirmGuardianAddress(
  scope: PersonScope,
  studentId: string,
  guardianId: string,
): Promise<void> {
  requirePermission(scope, "family.edit");
  const changed = await scope
    .trx("guardians")
    .where(keyOf(scope, studentId, guardianId))
    .whereNotNull("email")
    .update({ confirmed_email: scope.trx.raw("lower(email)") });
  if (changed === 0) notFound();
  await freeHeld(scope, guardianId, ["not confirmed"]);
  await recordEvent(scope, { thing: "guardian", act: "address checked", thingId: guardianId, studentId });
}

/** Refuses a guardian everywhere from this moment, with the reason that staff sees; or allows them again where it is null. */
export async function refuseGuardian(
  scope: PersonScope,
  studentId: string,
  guardianId: string,
  reason: string | null,
): Promise<void> {
  requirePermission(scope, "family.edit");
  const changed = await scope
    .trx("guardians")
    .where(keyOf(scope, studentId, guardianId))
    .update({ no_access_reason: reason });
  if (changed === 0) notFound();
  if (reason !== null) await scope.trx.raw("select gate.end_family(?, false)", [guardianId]);
  await recordEvent(scope, {
    ...{ thing: "guardian", act: reason === null ? "allowed again" : "refused" },
    ...{ thingId: guardianId, studentId },
  });
}

/** Takes a guardian out: their links and their account's tie to the student end. */
export async function removeGuardian(
  scope: PersonScope,
  studentId: string,
  guardianId: string,
): Promise<void> {
  requirePermission(scope, "family.edit");
  const changed = await scope
    .trx("guardians")
    .where(keyOf(scope, studentId, guardianId))
    .update({ removed_at: scope.now });
  if (changed === 0) notFound();
  await scope.trx.raw("select gate.end_family(?, true)", [guardianId]);
  await recordEvent(scope, { thing: "guardian", act: "removed", thingId: guardianId, studentId });
}

/**
 * Makes a link for a guardian, good for some days; the one before is good no longer.
 *
 * @param tokenHash the hash of the link's secret
 * @returns the last day it is good, `YYYY-MM-DD`; null where the guardian may not read
 */
export async function addFamilyLink(
  scope: PersonScope,
  studentId: string,
  guardianId: string,
  { tokenHash, days }: { tokenHash: Buffer; days: number },
): Promise<string | null> {
  requirePermission(scope, "family.edit");
  if (!(await isGuardianOf(scope, studentId, guardianId))) notFound();
  const { rows } = await scope.trx.raw<{ rows: { until: Date | null }[] }>(
    "select gate.add_family_link(?, ?, ?, ?, ?) as until",
    [keyIn(scope.trx), newId(), guardianId, tokenHash, days],
  );
  const until = rows[0]?.until;
  if (!until) return null;
  await recordEvent(scope, { thing: "guardian", act: "link made", thingId: guardianId, studentId });
  return localMoment(scope.timeZone, until.getTime()).slice(0, 10);
}

/** Is this a guardian of this student? */
export async function isGuardianOf(scope: Scope, studentId: string, guardianId: string): Promise<boolean> {
  const row = await scope
    .trx("guardians")
    .where(keyOf(scope, studentId, guardianId))
    .first("guardian_id");
  return row !== undefined;
}

/** Ends the link of a guardian, and what is open with it. */
export async function revokeFamilyLink(
  scope: PersonScope,
  studentId: string,
  guardianId: string,
): Promise<void> {
  requirePermission(scope, "family.edit");
  if (!(await isGuardianOf(scope, studentId, guardianId))) notFound();
  await scope.trx.raw("select gate.end_family(?, false)", [guardianId]);
  await recordEvent(scope, { thing: "guardian", act: "link taken back", thingId: guardianId, studentId });
}

/** The questions of a student's family, those without an answer first. */
export async function listQuestions(
  scope: Scope,
  studentId: string,
  guardianId: string | null = null,
): Promise<FamilyQuestion[]> {
  const { rows } = await scope.trx.raw<{
    rows: {
      question_id: string;
      guardian_id: string;
      name: string;
      words: string;
      asked_at: Date;
      answer: string | null;
      answered_at: Date | null;
    }[];
  }>(
    `select q.question_id, q.guardian_id, g.name, q.words, q.asked_at, q.answer, q.answered_at
     from family_questions q join guardians g on g.school_id = q.school_id and g.guardian_id = q.guardian_id
     where q.school_id = :schoolId and q.student_id = :studentId and (:guardianId::uuid is null or q.guardian_id = :guardianId)
     order by q.answered_at is not null, q.asked_at desc limit 50`,
    { schoolId: scope.schoolId, studentId, guardianId },
  );
  const local = (moment: Date) => localMoment(scope.timeZone, moment.getTime());
  return rows.map((row) => ({
    ...{ questionId: row.question_id, guardianId: row.guardian_id, by: row.name, words: row.words },
    ...{ askedAt: local(row.asked_at), answer: row.answer },
    answeredAt: row.answered_at && local(row.answered_at),
  }));
}

/**
 * Puts a question of a guardian to the case manager. One at a time: the next one after the answer.
 *
 * @returns false where one is waiting
 */
export async function askQuestion(scope: Scope<LinkActor>, words: string): Promise<boolean> {
  requirePermission(scope, "family.ask");
  const { studentId, linkId } = scope.actor;
  const { rows } = await scope.trx.raw<{ rows: unknown[] }>(
    `insert into family_questions (school_id, question_id, student_id, guardian_id, words)
     select :schoolId, :questionId, :studentId, :linkId, :words
     where not exists (select 1 from family_questions q where q.school_id = :schoolId and q.guardian_id = :linkId
       and q.answered_at is null)
     returning question_id`,
    { schoolId: scope.schoolId, questionId: newId(), studentId, linkId, words },
  );
  if (rows.length === 0) return false;
  await recordEvent(scope, { thing: "guardian", act: "asked", thingId: linkId, studentId });
  return true;
}

/** Answers a question, in words that the family reads, or notes that it was answered otherwise where there are none. */
export async function answerQuestion(
  scope: PersonScope,
  studentId: string,
  questionId: string,
  answer: string | null,
): Promise<void> {
  requirePermission(scope, "family.answer");
  const rows: { guardian_id: string }[] = await scope
    .trx("family_questions")
    .where({ school_id: scope.schoolId, student_id: studentId, question_id: questionId })
    .update({ answer, answered_by: scope.actor.personId, answered_at: scope.now })
    .returning("guardian_id");
  const [row] = rows;
  if (!row) notFound();
  await recordEvent(scope, { thing: "guardian", act: "answered", thingId: row.guardian_id, studentId });
}

/** Notes that a guardian reads the family's page. */
export const noteFamilyOpened = (scope: Scope<LinkActor>): Promise<void> =>
  recordEvent(scope, {
    ...{ thing: "guardian", act: "opened" },
    ...{ thingId: scope.actor.linkId, studentId: scope.actor.studentId },
  });

/** What is known of the day on which a student's rights pass to them, and what was decided then. */
export interface Majority {
  bornOn: string | null;
  /** The eighteenth birthday, `YYYY-MM-DD`. */
  comesOfAge: string | null;
  familyAfter: "ended" | "student agrees" | null;
}

/** The same, of one student. */
export async function readMajority({ trx, schoolId }: Scope, studentId: string): Promise<Majority> {
  const { rows } = await trx.raw<{
    rows: { born_on: string | null; of_age: string | null; family_after: Majority["familyAfter"] }[];
  }>(
    `select born_on, (born_on + interval '18 years')::date as of_age, family_after from students
     where school_id = ? and student_id = ?`,
    [schoolId, studentId],
  );
  const {
    born_on: bornOn = null,
    of_age: comesOfAge = null,
    family_after: familyAfter = null,
  } = rows[0] ?? {};
  return { bornOn, comesOfAge, familyAfter };
}

/** Writes a student's birth date down, and what was decided about the family's access when the rights passed. */
export async function saveMajority(
  scope: PersonScope,
  studentId: string,
  { bornOn, familyAfter }: Omit<Majority, "comesOfAge">,
): Promise<void> {
  requirePermission(scope, "family.edit");
  const before = await readMajority(scope, studentId);
  await scope
    .trx("students")
    .where({ school_id: scope.schoolId, student_id: studentId })
    .update({ born_on: bornOn, family_after: familyAfter });
  const act =
    before.familyAfter === familyAfter
      ? "birth date noted"
      : familyAfter === "ended"
        ? "passed, family ended"
        : familyAfter === "student agrees"
          ? "passed, family reads on"
          : "taken back";
  await recordEvent(scope, { thing: "rights", act, thingId: null, studentId });
}

/** What waits for a lead with a student. */
export interface LeadReminder {
  studentId: string;
  /** The student, as the spine names them. */
  name: string;
  /** Questions of the family without an answer. */
  questions: number;
  /** Records that were sent after their person's part in the circle had ended. */
  held: number;
  /** Messages about the student that are stuck until somebody does something. */
  stuck: number;
  /** The eighteenth birthday, `YYYY-MM-DD`, from 60 days before it until something is decided about the family's access; else null. */
  comesOfAge: string | null;
}

/**
 * What waits for this person with the students they lead: questions of families, late records, and rights that pass at eighteen.
 *
 * Source: 34 CFR 99.5 (a), the rights of parents pass to a student of eighteen.
 */
export async function listLeadReminders(scope: PersonScope): Promise<LeadReminder[]> {
  const { rows } = await scope.trx.raw<{
    rows: {
      student_id: string;
      name: string;
      questions: number;
      held: number;
      stuck: number;
      of_age: string | null;
    }[];
  }>(
    `select * from (
       select st.student_id, coalesce(st.preferred_name, st.given_name) as name,
         (select count(*)::int from family_questions q where q.school_id = st.school_id and q.student_id = st.student_id
           and q.answered_at is null) as questions,
         (select count(*)::int from held_items h where h.school_id = st.school_id and h.student_id = st.student_id
           and h.decision is null) as held,
         (select count(*)::int from messages m where m.school_id = st.school_id and m.student_id = st.student_id and ${isStuckMessage}) as stuck,
         case when st.family_after is null and st.born_on + interval '18 years' <= :today::date + 60
           then (st.born_on + interval '18 years')::date end as of_age
       from circle c join students st on st.school_id = c.school_id and st.student_id = c.student_id
       where c.school_id = :schoolId and c.person_id = :personId and c.part = 'lead' and in_circle_now(c.from_on, c.to_on)
         and st.left_on is null
     ) waiting where questions > 0 or held > 0 or stuck > 0 or of_age is not null order by name, student_id`,
    { schoolId: scope.schoolId, personId: scope.actor.personId, today: scope.today },
  );
  return rows.map(({ student_id, name, questions, held, stuck, of_age }) => ({
    ...{ studentId: student_id, name, questions, held, stuck, comesOfAge: of_age },
  }));
}
