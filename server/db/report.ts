import type { ReportOrder, ReportSpan } from "#core/report/document.ts";
import type { ReportRecord } from "#core/report/report-lines.ts";
import { isDate } from "#core/dates/day-number.ts";
import { isId, type Scope } from "../access/scope.ts";
import { listDecisions } from "./decisions.ts";
import { listEntries } from "./entry-lists.ts";
import { listIncidents } from "./incident-lists.ts";
import { listJots } from "./jots.ts";
import { listNotMeasured } from "./not-measured.ts";
import { listPatternNotes } from "./pattern-notes.ts";

type Kind = "entry" | "not measured" | "incident" | "pattern" | "jot" | "decision";

/** Where a line stands in the report: its goal where it stands by goals, its day, its time, and what tells lines of one moment apart. */
interface LineKey {
  kind: Kind;
  id: string;
  /** 0 by day; by goal the goal's place, negative, so that the first comes first. */
  place: number;
  on: string;
  /** `HH:MM:SS.ffffff` of the school; the beginning of its period; nothing where only the day is known. */
  at: string;
  rank: number;
}

const keyPattern = /^(-?\d{1,9})_(\d{4}-\d{2}-\d{2})_([\d:.]*)_(\d)_([0-9a-f-]{36})$/;
const written = ({ place, on, at, rank, id }: LineKey): string => [place, on, at, rank, id].join("_");

/** Reads the key of a line as it stands in an address; null where it is none. */
export function readLineKey(text: string | null): Omit<LineKey, "kind"> | null {
  const found = keyPattern.exec(text ?? "");
  if (!found) return null;
  const [, place = "", on = "", at = "", rank = "", id = ""] = found;
  if (!isDate(on) || !isId(id)) return null;
  return { place: Number(place), on, at, rank: Number(rank), id };
}

const clock = "'HH24:MI:SS.US'";
/** When the period of a line begins on its weekday, by the timetable. */
const periodBegin = (alias: string, on: string) =>
  `(select to_char(min(t.starts_at)::interval, ${clock}) from timetable t where t.school_id = ${alias}.school_id
      and t.weekday = extract(isodow from ${alias}.${on}) and t.name = ${alias}.period)`;
/**
 * Every line of the student, by real time: one that is known by its period only stands where the timetable has that period on that
 * weekday, one without either at the beginning of its day.
 */
const lines = `
  select 'entry' as kind, 5 as rank, e.entry_id as id, e.goal_id, e.observed_on as on,
    to_char(e.observed_at at time zone :timeZone, ${clock}) as at
  from entries e where e.school_id = :schoolId and e.student_id = :studentId and e.state = 'kept'
  union all
  select 'not measured', 4, n.note_id, n.goal_id, n.observed_on, to_char(n.observed_at at time zone :timeZone, ${clock})
  from not_measured n where n.school_id = :schoolId and n.student_id = :studentId and n.removed_at is null
  union all
  select 'incident', 3, i.incident_id, null, i.occurred_on, coalesce(to_char(i.occurred_at at time zone :timeZone, ${clock}),
    ${periodBegin("i", "occurred_on")}, '')
  from incidents i where i.school_id = :schoolId and i.student_id = :studentId and i.state = 'kept'
  union all
  select 'pattern', 2, p.note_id, null, p.noted_on, to_char(p.noted_at at time zone :timeZone, ${clock})
  from pattern_notes p where p.school_id = :schoolId and p.student_id = :studentId and p.removed_at is null
  union all
  select 'jot', 0, j.jot_id, null, j.noted_on, coalesce(to_char(j.noted_at at time zone :timeZone, ${clock}), ${periodBegin("j", "noted_on")}, '')
  from jots j where j.school_id = :schoolId and j.student_id = :studentId and j.state = 'kept'
  union all
  select 'decision', 1, d.decision_id, d.goal_id, d.decided_on, ''
  from goal_decisions d where d.school_id = :schoolId and d.student_id = :studentId and d.removed_at is null`;

export interface ReportPart {
  record: ReportRecord;
  /** The ids of the lines, newest first. */
  order: string[];
  /** The key of the last line, where there are older ones. */
  next: string | null;
}

/** Lines of no goal come after those of every goal, and jots after incidents. */
const afterGoals = -1_000_000;

/**
 * A part of a student's report, newest first: `limit` lines, or all where it is null, older than the line `before`. By goals, the goals
 * come in their order, each with its newest line first. It takes seven statements, however long the report is.
 */
export async function readReport(
  scope: Scope,
  studentId: string,
  {
    before = null,
    limit,
    span = null,
    order = "time",
  }: {
    before?: Omit<LineKey, "kind"> | null;
    limit: number | null;
    span?: ReportSpan | null;
    order?: ReportOrder;
  },
): Promise<ReportPart> {
  const { rows } = await scope.trx.raw<{ rows: LineKey[] }>(
    `select * from (
       select k.*, case when :byGoal then coalesce(-g.position, case k.kind when 'jot' then ${afterGoals - 1} else ${afterGoals} end) else 0 end as place
       from (${lines}) k left join goals g on g.school_id = :schoolId and g.goal_id = k.goal_id
       where (:from::date is null or k.on >= :from::date) and (:to::date is null or k.on <= :to::date)
     ) l
     where :beforeId::uuid is null or (l.place, l.on, l.at, l.rank, l.id)
       < (:beforePlace::int, :beforeOn::date, :beforeAt::text, :beforeRank::int, :beforeId::uuid)
     order by l.place desc, l.on desc, l.at desc, l.rank desc, l.id desc limit :limit`,
    {
      ...{ schoolId: scope.schoolId, timeZone: scope.timeZone, studentId },
      ...{ byGoal: order === "goal", from: span?.from ?? null, to: span?.to ?? null },
      ...{ beforePlace: before?.place ?? null, beforeOn: before?.on ?? null, beforeAt: before?.at ?? null },
      ...{ beforeRank: before?.rank ?? null, beforeId: before?.id ?? null },
      limit: limit === null ? null : limit + 1,
    },
  );
  const shown = limit === null ? rows : rows.slice(0, limit);
  const last = shown.at(-1);
  const of = (wanted: Kind) => ({ ids: shown.flatMap(({ kind, id }) => (kind === wanted ? id : [])) });
  return {
    record: {
      entries: await listEntries(scope, studentId, of("entry")),
      notMeasured: await listNotMeasured(scope, studentId, of("not measured")),
      incidents: await listIncidents(scope, studentId, of("incident")),
      patterns: await listPatternNotes(scope, studentId, of("pattern")),
      jots: await listJots(scope, studentId, of("jot")),
      decisions: await listDecisions(scope, studentId, of("decision")),
    },
    order: shown.map(({ id }) => id),
    next: last && rows.length > shown.length ? written(last) : null,
  };
}
