import { v7 as newId } from "uuid";
import type { FeedbackAnswer } from "#core/dispatch/gather-feedback.ts";
import { initialsOf, shortName } from "#core/model/student-names.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { may } from "../access/table.ts";
import { Conflict, notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { addMessages, type NewMessage } from "./messages.ts";

/** To whom gathered feedback goes. */
export type FeedbackReader = { personId: string } | { guardianId: string };

/** Feedback that is asked for. */
export interface NewRound {
  roundId: string;
  studentId: string;
  title: string;
  prompts: readonly string[];
  to: FeedbackReader;
  /** Who is asked. */
  askedIds: readonly string[];
}

/** A round of feedback in a list. Moments are the school's own. */
export interface ListedRound {
  roundId: string;
  title: string;
  to: string;
  by: string;
  madeAt: string;
  sentAt: string | null;
  isClosed: boolean;
  asked: number;
  answered: number;
  /** Is the person who asks among those asked, and have they answered? */
  mine: "asked" | "answered" | null;
}

/** One of them in full; the answers only for who leads the circle. */
export interface Round extends ListedRound {
  prompts: string[];
  reader: FeedbackReader;
  messageId: string | null;
  /** What the person who asks answered. */
  own: string[] | null;
  /** What everybody answered; empty for who does not lead. */
  answers: FeedbackAnswer[];
  /** Who has not answered yet, by name. */
  waiting: string[];
}

interface RoundRow {
  round_id: string;
  title: string;
  prompts: string[];
  to_person_id: string | null;
  to_guardian_id: string | null;
  to_name: string;
  given_name: string;
  family_name: string;
  made_at: Date;
  sent_at: Date | null;
  closed_at: Date | null;
  message_id: string | null;
  asked: number;
  answered: number;
  is_asked: boolean;
  has_answered: boolean;
  own: string[] | null;
}

/** Whoever asks for feedback reads what was answered. */
const leadsIt = ({ actor, circleRole }: PersonScope) => may(actor, "feedback.ask", { circleRole });

const readRounds = `select r.*, p.given_name, p.family_name,
    coalesce(tp.given_name || ' ' || tp.family_name, tg.name, '') as to_name,
    (select count(*)::int from feedback_answers a where a.school_id = r.school_id and a.round_id = r.round_id) as asked,
    (select count(*)::int from feedback_answers a where a.school_id = r.school_id and a.round_id = r.round_id and a.at is not null) as answered,
    mine.person_id is not null as is_asked, mine.at is not null as has_answered, mine.texts as own
  from feedback_rounds r
  join people p on p.school_id = r.school_id and p.person_id = r.person_id
  left join people tp on tp.school_id = r.school_id and tp.person_id = r.to_person_id
  left join guardians tg on tg.school_id = r.school_id and tg.guardian_id = r.to_guardian_id
  left join feedback_answers mine on mine.school_id = r.school_id and mine.round_id = r.round_id and mine.person_id = :personId
  where r.school_id = :schoolId and r.student_id = :studentId`;

function toListed({ timeZone }: Scope, row: RoundRow): ListedRound {
  const local = (moment: Date) => localMoment(timeZone, moment.getTime());
  return {
    ...{ roundId: row.round_id, title: row.title, to: row.to_name, asked: row.asked, answered: row.answered },
    by: shortName(row.given_name, row.family_name),
    ...{ madeAt: local(row.made_at), sentAt: row.sent_at && local(row.sent_at) },
    isClosed: row.closed_at !== null || row.sent_at !== null,
    mine: row.has_answered ? "answered" : row.is_asked ? "asked" : null,
  };
}

/** What of feedback about a student the person may know: all for who leads the circle, else where they are asked. The newest first. */
export async function listRounds(scope: PersonScope, studentId: string): Promise<ListedRound[]> {
  requirePermission(scope, "feedback.read");
  const { rows } = await scope.trx.raw<{ rows: RoundRow[] }>(
    `${readRounds} and (:leads or mine.person_id is not null) order by r.made_at desc`,
    {
      ...{ schoolId: scope.schoolId, studentId, personId: scope.actor.personId },
      leads: leadsIt(scope),
    },
  );
  return rows.map((row) => toListed(scope, row));
}

/**
 * One round of feedback.
 *
 * @throws NotFound where the person neither leads the circle nor is asked
 */
export async function findRound(scope: PersonScope, studentId: string, roundId: string): Promise<Round> {
  requirePermission(scope, "feedback.read");
  const { trx, schoolId, actor } = scope;
  const leads = leadsIt(scope);
  const { rows } = await trx.raw<{ rows: RoundRow[] }>(
    `${readRounds} and r.round_id = :roundId and (:leads or mine.person_id is not null)`,
    { schoolId, studentId, roundId, personId: actor.personId, leads },
  );
  const row = rows[0] ?? notFound();
  const { rows: all } = leads
    ? await trx.raw<{
        rows: {
          person_id: string;
          given_name: string;
          family_name: string;
          texts: string[] | null;
          at: Date | null;
        }[];
      }>(
        `select a.person_id, p.given_name, p.family_name, a.texts, a.at
         from feedback_answers a join people p on p.school_id = a.school_id and p.person_id = a.person_id
         where a.school_id = ? and a.round_id = ? order by a.at nulls last, p.given_name, p.person_id`,
        [schoolId, roundId],
      )
    : { rows: [] };
  return {
    ...toListed(scope, row),
    ...{ prompts: row.prompts, messageId: row.message_id, own: row.own },
    reader: row.to_person_id
      ? { personId: row.to_person_id }
      : { guardianId: row.to_guardian_id ?? notFound() },
    answers: all.flatMap(({ person_id, given_name, family_name, texts, at }) =>
      texts === null || at === null
        ? []
        : {
            ...{ personId: person_id, name: shortName(given_name, family_name), at: at.toISOString(), texts },
            initials: initialsOf(given_name, family_name),
          },
    ),
    waiting: all.flatMap(({ given_name, family_name, at }) =>
      at === null ? `${given_name} ${family_name}` : [],
    ),
  };
}

/** Asks people of the circle for feedback; each is sent a message. Sent twice by the same form, it is one. */
export async function askForFeedback(scope: PersonScope, round: NewRound): Promise<void> {
  requirePermission(scope, "feedback.ask");
  const { trx, schoolId, actor } = scope;
  const { roundId, studentId, title, prompts, to, askedIds } = round;
  const key = { school_id: schoolId, round_id: roundId, student_id: studentId };
  const added: unknown[] = await trx("feedback_rounds")
    .insert({
      ...{ ...key, person_id: actor.personId, title, prompts: JSON.stringify(prompts) },
      to_person_id: "personId" in to ? to.personId : null,
      to_guardian_id: "guardianId" in to ? to.guardianId : null,
    })
    .onConflict(["school_id", "round_id"])
    .ignore()
    .returning("round_id");
  if (added.length === 0) return;
  await trx("feedback_answers").insert(askedIds.map((person_id) => ({ ...key, person_id })));
  await addMessages(
    scope,
    askedIds
      .filter((personId) => personId !== actor.personId)
      .map((personId): NewMessage => ({
        ...{ kind: "ask", reader: { personId }, studentId, about: { things: [roundId] } },
      })),
  );
  await recordEvent(scope, { thing: "feedback", act: "asked", thingId: roundId, studentId });
}

/**
 * Saves what a person answers, in place of what they answered before.
 *
 * @throws Conflict where the round is closed
 */
export async function answerFeedback(
  scope: PersonScope,
  studentId: string,
  roundId: string,
  texts: readonly string[],
): Promise<void> {
  const round = await findRound(scope, studentId, roundId);
  if (round.mine === null) notFound();
  if (round.isClosed) throw new Conflict();
  await scope
    .trx("feedback_answers")
    .where({ school_id: scope.schoolId, round_id: roundId, person_id: scope.actor.personId })
    .update({ texts: JSON.stringify(texts), at: scope.now });
  await recordEvent(scope, { thing: "feedback", act: "answered", thingId: roundId, studentId });
}

/**
 * Sends gathered feedback to its reader as one message.
 *
 * @param words as it was put together and looked at
 * @throws Conflict where it was sent before
 */
export async function sendFeedback(
  scope: PersonScope,
  studentId: string,
  roundId: string,
  { subject, words }: { subject: string; words: string },
): Promise<void> {
  requirePermission(scope, "feedback.ask");
  const round = await findRound(scope, studentId, roundId);
  const { trx, schoolId, now } = scope;
  const messageId = newId();
  const changed = await trx("feedback_rounds")
    .where({ school_id: schoolId, round_id: roundId })
    .whereNull("sent_at")
    .update({ sent_at: now, message_id: messageId });
  if (changed === 0) throw new Conflict();
  const written = { subject, words };
  await addMessages(scope, [
    {
      ...{ messageId, kind: "feedback", reader: round.reader, studentId },
      about: { written: { en: written, es: written } },
    },
  ]);
  await recordEvent(scope, { thing: "feedback", act: "sent", thingId: roundId, studentId });
}

/** Closes a round without sending it, or opens it again. */
export async function closeFeedback(
  scope: PersonScope,
  studentId: string,
  roundId: string,
  isClosed: boolean,
): Promise<void> {
  requirePermission(scope, "feedback.ask");
  await findRound(scope, studentId, roundId);
  await scope
    .trx("feedback_rounds")
    .where({ school_id: scope.schoolId, round_id: roundId })
    .update({ closed_at: isClosed ? scope.now : null });
  await recordEvent(scope, {
    ...{ thing: "feedback", act: isClosed ? "closed" : "opened again" },
    ...{ thingId: roundId, studentId },
  });
}
