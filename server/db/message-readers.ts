import { type Choices, type ChosenKind, isChosenKind, type Way } from "#core/dispatch/message-kinds.ts";
import type { Addressee } from "#core/dispatch/writing-obstacle.ts";
import { type SendingHours, usualHours } from "#core/dispatch/sending-hours.ts";
import type { CircleRole, JobActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";

/** What a person wants to be sent, and when. */
export interface MessageWishes {
  choices: Choices;
  hours: SendingHours;
}

interface WishColumns {
  choices: Record<string, Way> | null;
  quiet_from: string | null;
  quiet_to: string | null;
  school_days_only: boolean | null;
  summary_at: string | null;
  summary_on: number | null;
}

/** The wishes of the person `p`. */
const wishes = `(select jsonb_object_agg(w.kind, w.way) from message_choices w
    where w.school_id = p.school_id and w.person_id = p.person_id) as choices,
  h.quiet_from, h.quiet_to, h.school_days_only, h.summary_at, h.summary_on`;
const hoursOf = "left join message_hours h on h.school_id = p.school_id and h.person_id = p.person_id";

const toWishes = (row: WishColumns): MessageWishes => ({
  choices: Object.fromEntries(Object.entries(row.choices ?? {}).filter(([kind]) => isChosenKind(kind))),
  hours:
    row.school_days_only === null
      ? usualHours
      : {
          quiet: row.quiet_from && row.quiet_to ? { from: row.quiet_from, to: row.quiet_to } : null,
          schoolDaysOnly: row.school_days_only,
          summaryAt: row.summary_at ?? usualHours.summaryAt,
          summaryOn: row.summary_on ?? usualHours.summaryOn,
        },
});

/** What the person who asks wants to be sent. */
export async function readOwnWishes({ trx, schoolId, actor }: PersonScope): Promise<MessageWishes> {
  const { rows } = await trx.raw<{ rows: WishColumns[] }>(
    `select ${wishes} from people p ${hoursOf} where p.school_id = ? and p.person_id = ?`,
    [schoolId, actor.personId],
  );
  return rows[0] ? toWishes(rows[0]) : { choices: {}, hours: usualHours };
}

/** Saves what a person wants to be sent, and when. */
export async function saveOwnWishes(
  scope: PersonScope,
  { choices, hours }: { choices: Readonly<Record<ChosenKind, Way>>; hours: SendingHours },
): Promise<void> {
  requirePermission(scope, "own-settings.keep");
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, person_id: actor.personId };
  await trx("message_choices")
    .insert(Object.entries(choices).map(([kind, way]) => ({ ...key, kind, way })))
    .onConflict(["school_id", "person_id", "kind"])
    .merge(["way"]);
  const columns = {
    ...{ quiet_from: hours.quiet?.from ?? null, quiet_to: hours.quiet?.to ?? null },
    ...{ school_days_only: hours.schoolDaysOnly, summary_at: hours.summaryAt, summary_on: hours.summaryOn },
  };
  await trx("message_hours")
    .insert({ ...key, ...columns })
    .onConflict(["school_id", "person_id"])
    .merge(columns);
  await recordEvent(scope, {
    ...{ thing: "person", act: "messages chosen" },
    ...{ thingId: actor.personId, studentId: null },
  });
}

/** A member of staff who may be sent something about a student. */
export interface StaffReader extends MessageWishes {
  studentId: string;
  personId: string;
  circleRole: CircleRole;
  isMuted: boolean;
}

/** Who of the circles of these students now may be written to: people who work here, have joined and have an e-mail. */
export async function listStaffReaders(
  scope: Scope<JobActor>,
  studentIds: readonly string[],
): Promise<StaffReader[]> {
  requirePermission(scope, "messages.send");
  const { rows } = await scope.trx.raw<{
    rows: (WishColumns & { student_id: string; person_id: string; part: CircleRole; is_muted: boolean })[];
  }>(
    `select c.student_id, p.person_id, c.part, m.person_id is not null as is_muted, ${wishes}
     from circle c
     join people p on p.school_id = c.school_id and p.person_id = c.person_id
     ${hoursOf}
     left join circle_mutes m on m.school_id = c.school_id and m.student_id = c.student_id and m.person_id = c.person_id
     where c.school_id = :schoolId and c.student_id = any(:studentIds) and in_circle_now(c.from_on, c.to_on)
       and p.email is not null and (p.left_on is null or p.left_on >= :today)
       and p.person_id = any(gate.joined_here(array(select person_id from people where school_id = :schoolId)))
     order by c.student_id, p.person_id`,
    { schoolId: scope.schoolId, studentIds: [...studentIds], today: scope.today },
  );
  return rows.map((row) => ({
    ...{ studentId: row.student_id, personId: row.person_id, circleRole: row.part, isMuted: row.is_muted },
    ...toWishes(row),
  }));
}

/** A person or a guardian as a message finds them in the moment it is sent. */
export interface Reader extends Addressee {
  /** How they are addressed. */
  name: string;
  language: "en" | "es";
  hours: SendingHours;
}

/** Families are written to in the daytime. */
const familyHours: SendingHours = {
  ...usualHours,
  ...{ quiet: { from: "20:00", to: "07:00" }, schoolDaysOnly: false },
};

/** One reader, as they are now. */
export async function findReader(
  { trx, schoolId, today }: Scope,
  { personId, guardianId }: { personId: string | null; guardianId: string | null },
): Promise<Reader | null> {
  if (personId !== null) {
    const { rows } = await trx.raw<{
      rows: (WishColumns & {
        email: string | null;
        given_name: string;
        has_left: boolean;
        answer: string | null;
      })[];
    }>(
      `select p.email, p.given_name, coalesce(p.left_on < :today, false) as has_left, w.answer, ${wishes}
       from people p ${hoursOf}
       left join wrong_addresses w on w.school_id = p.school_id and w.email = lower(p.email)
       where p.school_id = :schoolId and p.person_id = :personId`,
      { schoolId, personId, today },
    );
    const [row] = rows;
    return row
      ? {
          ...{ email: row.email, name: row.given_name, language: "en", hours: toWishes(row).hours },
          // Who joined by a link that was mailed there reads mail there, and the school is their work.
          ...{ mayRead: !row.has_left, hasAgreed: true, isConfirmed: true, refusedWith: row.answer },
        }
      : null;
  }
  const { rows } = await trx.raw<{
    rows: {
      email: string | null;
      name: string;
      language: "en" | "es";
      mail_agreed_on: string | null;
      is_confirmed: boolean;
      may_read: boolean;
      answer: string | null;
    }[];
  }>(
    `select g.email, g.name, g.language, g.mail_agreed_on, coalesce(g.confirmed_email = lower(g.email), false) as is_confirmed,
       exists (select 1 from gate.guardian_now(g.school_id, g.guardian_id)) as may_read, w.answer
     from guardians g left join wrong_addresses w on w.school_id = g.school_id and w.email = lower(g.email)
     where g.school_id = :schoolId and g.guardian_id = :guardianId`,
    { schoolId, guardianId },
  );
  const [row] = rows;
  return row
    ? {
        ...{ email: row.email, name: row.name, language: row.language, hours: familyHours },
        ...{ mayRead: row.may_read, hasAgreed: row.mail_agreed_on !== null },
        ...{ isConfirmed: row.is_confirmed, refusedWith: row.answer },
      }
    : null;
}

/** The guardians of a student who may be written to now. */
export async function listGuardianReaders(scope: Scope<JobActor>, studentId: string): Promise<string[]> {
  requirePermission(scope, "messages.send");
  const { rows } = await scope.trx.raw<{ rows: { guardian_id: string }[] }>(
    `select g.guardian_id from guardians g
     where g.school_id = :schoolId and g.student_id = :studentId and g.email is not null and g.mail_agreed_on is not null
       and exists (select 1 from gate.guardian_now(g.school_id, g.guardian_id))
     order by g.guardian_id`,
    { schoolId: scope.schoolId, studentId },
  );
  return rows.map(({ guardian_id }) => guardian_id);
}

/** Of whom in a student's circle nothing of the student is sent, by the ids of the people. */
export async function listMuted({ trx, schoolId }: Scope, studentId: string): Promise<Set<string>> {
  const rows = await trx("circle_mutes")
    .where({ school_id: schoolId, student_id: studentId })
    .select("person_id");
  return new Set(rows.map(({ person_id }) => person_id));
}

/**
 * Mutes a student for a person of the circle, or ends that. What tells of harm comes all the same.
 *
 * @throws NotFound where the person was never in the circle
 */
export async function muteFor(
  scope: PersonScope,
  studentId: string,
  personId: string,
  isMuted: boolean,
): Promise<void> {
  requirePermission(scope, "circle.edit");
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, student_id: studentId, person_id: personId };
  if (!(await trx("circle").where(key).first("person_id"))) notFound();
  if (isMuted)
    await trx("circle_mutes")
      .insert({ ...key, muted_by: actor.personId })
      .onConflict(["school_id", "student_id", "person_id"])
      .ignore();
  else await trx("circle_mutes").where(key).delete();
  await recordEvent(scope, {
    ...{ thing: "circle", act: isMuted ? "muted" : "unmuted" },
    ...{ thingId: personId, studentId },
  });
}
