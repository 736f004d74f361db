import { localTime } from "#core/dates/school-time.ts";
import type { Revision } from "#core/model/revision.ts";
import { listChoices } from "./choices.ts";
import { listRevisions } from "./revisions.ts";
import type { ChoiceList } from "#core/model/choice-lists.ts";
import type { Incident } from "#core/model/incident.ts";
import type { PatternIncident } from "#core/incidents/patterns.ts";
import { observerWords } from "#core/words/observer-words.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { minutesApart, type StoredContent } from "./incidents.ts";
import { shortName } from "#core/model/student-names.ts";
import { inCircle } from "./students.ts";
import type { Wanted } from "./wanted.ts";
import type { Tables } from "./tables.ts";

interface IncidentRow extends Pick<
  Tables["incidents"],
  | "incident_id"
  | "student_id"
  | "author_id"
  | "period"
  | "note"
  | "ongoing"
  | "facts_missing"
  | "state"
  | "revision"
  | "same_as"
> {
  on: string;
  at: string | null;
  content: StoredContent;
  corrected: boolean;
  labels: Record<string, string> | null;
  given_name: string;
  family_name: string;
  writer_given: string | null;
  writer_family: string | null;
}

const labels = `(select jsonb_object_agg(c.choice_id, c.name) from choices c
  where c.school_id = i.school_id and c.student_id = i.student_id and c.choice_id = any(
    select jsonb_array_elements_text(l.value)::uuid from jsonb_each(i.content -> 'choices') l)) as labels`;
const corrected = `i.revision > 1 and exists (select 1 from revisions r where r.school_id = i.school_id and r.thing = 'incident'
  and r.thing_id = i.incident_id and r.act = 'corrected') as corrected`;
const columns = `i.incident_id, i.student_id, i.author_id, i.occurred_on as on, i.period, i.content, i.note, i.ongoing, i.facts_missing, i.state,
  i.revision, ${corrected}, i.same_as, to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at, ${labels},
  p.given_name, p.family_name, w.given_name as writer_given, w.family_name as writer_family`;
const tables = `incidents i
  join people p on p.school_id = i.school_id and p.person_id = coalesce(i.observer_id, i.author_id)
  left join people w on w.school_id = i.school_id and i.observer_id is not null and w.person_id = i.author_id`;

/** The words that choices have now. */
function namesOf(choices: StoredContent["choices"], words: Record<string, string> | null) {
  return Object.fromEntries(
    Object.entries(choices).map(([list, ids]) => [list, ids.flatMap((id) => words?.[id] ?? [])]),
  ) as Record<ChoiceList, string[]>;
}

const toIncident = (row: IncidentRow): Incident => ({
  incidentId: row.incident_id,
  studentId: row.student_id,
  authorId: row.author_id,
  author: observerWords(
    shortName(row.given_name, row.family_name),
    row.writer_given === null ? null : shortName(row.writer_given, row.writer_family ?? ""),
  ),
  on: row.on,
  at: row.at,
  period: row.period,
  names: namesOf(row.content.choices, row.labels),
  choices: row.content.choices,
  details: row.content.details,
  observerId: row.content.observerId,
  ongoing: row.ongoing,
  factsMissing: row.facts_missing,
  note: row.note,
  state: row.state,
  revision: row.revision,
  corrected: row.corrected,
  sameAs: row.same_as,
});

const asked = ({ schoolId, timeZone }: Scope, studentId: string) => ({
  schoolId,
  timeZone,
  studentId,
});

/** A student's kept incidents, the newest first; other accounts of the same one are among them. */
export async function listIncidents(
  scope: Scope,
  studentId: string,
  { limit = null, ids = null }: Wanted,
): Promise<Incident[]> {
  const { rows } = await scope.trx.raw<{ rows: IncidentRow[] }>(
    `select ${columns} from ${tables}
     where i.school_id = :schoolId and i.student_id = :studentId and i.state = 'kept'
       and (:ids::uuid[] is null or i.incident_id = any(:ids))
     order by i.occurred_on desc, i.occurred_at desc nulls last, i.incident_id desc limit :limit`,
    { ...asked(scope, studentId), limit, ids: ids && [...ids] },
  );
  return rows.map(toIncident);
}

/** Students with an incident in the last days, for work of the server itself. */
export async function listStudentsWithIncidents(
  { trx, schoolId, today }: Scope,
  days: number,
): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { student_id: string }[] }>(
    `select distinct student_id from incidents where school_id = ? and state = 'kept' and occurred_on > ?::date - ?::integer
     order by student_id`,
    [schoolId, today, days],
  );
  return rows.map(({ student_id }) => student_id);
}

interface PatternRow extends Pick<Tables["incidents"], "incident_id" | "student_id" | "period"> {
  on: string;
  at: string | null;
  content: StoredContent;
}
const patternColumns = `i.incident_id, i.student_id, i.occurred_on as on, i.period, i.content,
  to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at`;

/** Incidents in the words that their choices have now. */
function inWords(
  rows: readonly PatternRow[],
  choices: readonly { choice_id: string; name: string }[],
): (PatternIncident & { studentId: string })[] {
  const words = new Map(choices.map(({ choice_id, name }) => [choice_id, name]));
  const named = (ids: readonly string[] | undefined) => (ids ?? []).flatMap((id) => words.get(id) ?? []);
  return rows.map(({ incident_id, student_id, on, at, period, content: { choices: chosen, details } }) => ({
    ...{ incidentId: incident_id, studentId: student_id, on, at, period },
    setting: named(chosen.setting)[0] ?? null,
    antecedents: named(chosen.antecedent),
    behaviors: named(chosen.behavior),
    consequences: named(chosen.consequence),
    functions: details.functions,
    minutes: details.length && "minutes" in details.length ? details.length.minutes : null,
    intensity: details.intensity,
    length: details.length,
  }));
}

/** What the patterns of a student are made of: each kept incident once, oldest first. */
export async function listPatternIncidents(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  span: { from: string; to: string },
): Promise<PatternIncident[]> {
  const { rows } = await trx.raw<{ rows: PatternRow[] }>(
    `select ${patternColumns} from incidents i
     where i.school_id = :schoolId and i.student_id = :studentId and i.state = 'kept' and i.same_as is null
       and i.occurred_on between :from and :to
     order by i.occurred_on, i.occurred_at nulls last, i.incident_id`,
    { schoolId, timeZone, studentId, ...span },
  );
  const choices = await trx.raw<{ rows: { choice_id: string; name: string }[] }>(
    "select choice_id, name from choices where school_id = ? and student_id = ?",
    [schoolId, studentId],
  );
  return inWords(rows, choices.rows);
}

/** The same of every student of the school, each by a number in place of an id. Nobody may see it but through what keeps names out. */
export async function listSchoolIncidents(
  scope: PersonScope,
  span: { from: string; to: string },
): Promise<(PatternIncident & { studentId: string })[]> {
  requirePermission(scope, "school.patterns");
  const { trx, timeZone } = scope;
  const { rows } = await trx.raw<{ rows: PatternRow[] }>(
    `select '' as incident_id, i.student::text as student_id, i.occurred_on as on, i.period, i.content,
       to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at
     from gate.incidents_of_school(:from, :to) i order by i.occurred_on, i.occurred_at nulls last, i.student`,
    { timeZone, ...span },
  );
  const choices = await trx.raw<{ rows: { choice_id: string; name: string }[] }>(
    "select choice_id, name from gate.choices_of_school()",
  );
  return inWords(rows, choices.rows);
}

/** On which day which student of the school had an incident: for the spans over which they are counted without names. */
export async function listSchoolIncidentDays(
  scope: PersonScope,
): Promise<{ on: string; studentId: string }[]> {
  requirePermission(scope, "school.patterns");
  const { rows } = await scope.trx.raw<{ rows: { on: string; student_id: string }[] }>(
    "select distinct occurred_on as on, student::text as student_id from gate.incidents_of_school('-infinity', 'infinity')",
  );
  return rows.map(({ on, student_id }) => ({ on, studentId: student_id }));
}

/** An incident that somebody has to finish: it was still going on when it was written down, or facts of it are missing. */
export interface Unfinished {
  incidentId: string;
  studentId: string;
  on: string;
  at: string | null;
  authorId: string;
  author: string;
  ongoing: boolean;
  factsMissing: string[];
}

/** Those of the students in the person's circles, the newest first. */
export async function listUnfinished({ trx, schoolId, timeZone, actor }: PersonScope): Promise<Unfinished[]> {
  const { rows } = await trx.raw<{
    rows: Pick<
      IncidentRow,
      | "incident_id"
      | "student_id"
      | "author_id"
      | "on"
      | "at"
      | "given_name"
      | "family_name"
      | "ongoing"
      | "facts_missing"
    >[];
  }>(
    `select i.incident_id, i.student_id, i.author_id, i.occurred_on as on, i.ongoing, i.facts_missing,
       to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at, p.given_name, p.family_name
     from incidents i
     join students st on st.school_id = i.school_id and st.student_id = i.student_id
     join people p on p.school_id = i.school_id and p.person_id = i.author_id
     where i.school_id = :schoolId and (i.ongoing or i.facts_missing <> '{}') and i.state = 'kept' and st.left_on is null and ${inCircle}
     order by i.occurred_on desc, i.occurred_at desc nulls last, i.incident_id`,
    { schoolId, timeZone, personId: actor.personId },
  );
  return rows.map((row) => ({
    ...{ incidentId: row.incident_id, studentId: row.student_id, on: row.on, at: row.at },
    ...{ authorId: row.author_id, author: shortName(row.given_name, row.family_name) },
    ...{ ongoing: row.ongoing, factsMissing: row.facts_missing },
  }));
}

/**
 * One incident of a student, a removed one too.
 *
 * @throws NotFound
 */
export async function findIncident(
  scope: PersonScope,
  studentId: string,
  incidentId: string,
): Promise<Incident> {
  const { rows } = await scope.trx.raw<{ rows: IncidentRow[] }>(
    `select ${columns} from ${tables}
     where i.school_id = :schoolId and i.student_id = :studentId and i.incident_id = :incidentId`,
    { ...asked(scope, studentId), incidentId },
  );
  return rows[0] ? toIncident(rows[0]) : notFound();
}

/** One step in the history of an incident, with what stood then in the words of now. */
export interface IncidentRevision extends Omit<Revision<"incident">, "content"> {
  told: Pick<Incident, "on" | "at" | "period" | "names" | "details" | "ongoing" | "note">;
}

/** Everything that happened to an incident, its first version first. */
export async function listIncidentRevisions(
  scope: PersonScope,
  studentId: string,
  incidentId: string,
): Promise<IncidentRevision[]> {
  const words = Object.fromEntries(
    (await listChoices(scope, studentId)).map(({ choiceId, name }) => [choiceId, name]),
  );
  const steps = await listRevisions(scope, "incident", incidentId);
  return steps.map(({ content: { on, at, period, content, note }, ...step }) => ({
    ...step,
    told: {
      ...{ on, period, note },
      at: at === null ? null : localTime(scope.timeZone, Date.parse(at)),
      names: namesOf(content.choices, words),
      details: content.details,
      ongoing: content.ongoing,
    },
  }));
}

/** An incident of the same student that another adult wrote down at nearly the same time. */
export interface NearIncident {
  incidentId: string;
  at: string;
  by: string;
}

/** Two incidents of a student that may be the same one, told by two adults. */
export interface NearPair extends NearIncident {
  on: string;
  other: NearIncident;
}

/**
 * Pairs within ten minutes by two people, of which nobody has said yet whether they are the same and this person may: a lead, or who
 * wrote one of them down.
 *
 * @param which those of one incident, or those from a day on
 */
async function nearPairs(
  scope: PersonScope,
  studentId: string,
  which: { incidentId: string } | { from: string },
): Promise<NearPair[]> {
  const [wanted, values] =
    "incidentId" in which
      ? ["i.incident_id = :incidentId", { incidentId: which.incidentId }]
      : [
          "i.occurred_on >= :from and (i.occurred_at, i.incident_id) < (o.occurred_at, o.incident_id)",
          { from: which.from },
        ];
  const { rows } = await scope.trx.raw<{
    rows: Record<
      "on" | "id" | "at" | "given" | "family" | "other_id" | "other_at" | "other_given" | "other_family",
      string
    >[];
  }>(
    `select i.incident_id as id, to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at,
       p.given_name as given, p.family_name as family, i.occurred_on as on, o.incident_id as other_id,
       to_char(o.occurred_at at time zone :timeZone, 'HH24:MI') as other_at,
       q.given_name as other_given, q.family_name as other_family
     from incidents i
     join incidents o on o.school_id = i.school_id and o.student_id = i.student_id and o.incident_id <> i.incident_id
       and o.state = 'kept' and o.same_as is null
       and coalesce(o.observer_id, o.author_id) <> coalesce(i.observer_id, i.author_id)
       and o.occurred_at between i.occurred_at - make_interval(mins => :minutes) and i.occurred_at + make_interval(mins => :minutes)
     join people p on p.school_id = i.school_id and p.person_id = coalesce(i.observer_id, i.author_id)
     join people q on q.school_id = o.school_id and q.person_id = coalesce(o.observer_id, o.author_id)
     where i.school_id = :schoolId and i.student_id = :studentId and ${wanted}
       and i.state = 'kept' and i.same_as is null
       and (:leads or :personId in (i.author_id, o.author_id))
       and not o.incident_id = any(i.apart_from) and not i.incident_id = any(o.apart_from)
     order by o.occurred_at, o.incident_id`,
    {
      ...{ ...asked(scope, studentId), ...values, minutes: minutesApart },
      ...{ leads: scope.circleRole === "lead", personId: scope.actor.personId },
    },
  );
  return rows.map((row) => ({
    ...{ on: row.on, incidentId: row.id, at: row.at, by: shortName(row.given, row.family) },
    other: { incidentId: row.other_id, at: row.other_at, by: shortName(row.other_given, row.other_family) },
  }));
}

/** Those of one incident, of which it is still to be said whether they are the same. */
export async function listNear(
  scope: PersonScope,
  studentId: string,
  incidentId: string,
): Promise<NearIncident[]> {
  return (await nearPairs(scope, studentId, { incidentId })).map(({ other }) => other);
}

/** All of a student's from a day on, of which it is still to be said whether they are the same, the oldest first. */
export const listNearPairs = (scope: PersonScope, studentId: string, from: string): Promise<NearPair[]> =>
  nearPairs(scope, studentId, { from });
