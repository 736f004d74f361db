import { summaryFormat } from "#core/progress/goal-figures.ts";
import { observerWords } from "#core/words/observer-words.ts";
import type { GoalPhase } from "#core/model/goal.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import type { Student } from "#core/model/student.ts";
import { initialsOf, shortName } from "#core/model/student-names.ts";
import type { Entry } from "#core/model/entry.ts";
import type { Tables } from "./tables.ts";

/** Columns of a goal as `goalColumns` selects them, with its open measure, its phases and its kept facts. */
export interface GoalRow extends Pick<
  Tables["goals"],
  | "goal_id"
  | "student_id"
  | "number"
  | "area"
  | "title"
  | "wording"
  | "criterion"
  | "baseline_on"
  | "baseline_value"
  | "baseline_entries"
  | "start_on"
  | "due_on"
  | "annual_review_on"
  | "met_on"
  | "parent_id"
  | "schedule"
  | "strategy"
  | "measured_by"
  | "ended"
  | "ended_on"
  | "ended_reason"
  | "continues"
  | "revision"
  | "measure_version"
  | "figures_from_version"
> {
  measure: Tables["goal_measures"]["measure"];
  set_up_on: string | null;
  phases: GoalPhase[];
  summary: Tables["goal_summaries"]["summary"];
}

/** The school's day on which goal `g` was set up: its first measure began then. */
export const setUpOn = `
  (select (v.from_at at time zone sc.time_zone)::date from goal_measures v join schools sc on sc.school_id = v.school_id
    where v.school_id = g.school_id and v.goal_id = g.goal_id and v.version = 1)`;

/** The select list of a goal; tables: `goals g`, `goal_measures m`, `goal_summaries s`. */
export const goalColumns = `
  g.goal_id, g.student_id, g.number, g.area, g.title, g.wording, g.criterion, g.baseline_on, g.baseline_value,
  g.baseline_entries, g.start_on, g.due_on, g.annual_review_on, g.met_on, g.parent_id, g.schedule, g.strategy, g.measured_by,
  g.ended, g.ended_on, g.ended_reason, g.continues, g.revision, g.measure_version, g.figures_from_version, m.measure, s.summary,
  ${setUpOn} as set_up_on,
  coalesce((select jsonb_agg(jsonb_build_object('phaseId', p.phase_id, 'name', p.name, 'isBaseline', p.is_baseline,
      'startsOn', p.starts_on, 'reason', p.reason) order by p.starts_on)
    from goal_phases p where p.school_id = g.school_id and p.goal_id = g.goal_id), '[]') as phases`;

export const goalTables = `
  goals g
  join goal_measures m on m.school_id = g.school_id and m.goal_id = g.goal_id and m.version = g.measure_version
  join goal_summaries s on s.school_id = g.school_id and s.goal_id = g.goal_id`;

/** A goal from its row. */
export function toGoal(row: GoalRow): SummarisedGoal {
  return {
    goalId: row.goal_id,
    studentId: row.student_id,
    number: row.number,
    area: row.area,
    title: row.title,
    wording: row.wording,
    measure: row.measure,
    measureVersion: row.measure_version,
    figuresFromVersion: row.figures_from_version,
    parentId: row.parent_id,
    startOn: row.start_on,
    setUpOn: row.set_up_on,
    annualReviewOn: row.annual_review_on,
    schedule: row.schedule,
    strategy: row.strategy,
    measuredBy: row.measured_by,
    ended:
      row.ended === null || row.ended_on === null
        ? null
        : { how: row.ended, on: row.ended_on, reason: row.ended_reason },
    continues: row.continues,
    revision: row.revision,
    // One of another format is made anew within moments of an upgrade; until then nothing is told from it.
    summary: row.summary?.format === summaryFormat ? row.summary : null,
    setup: {
      measure: row.measure,
      criterion: row.criterion,
      dueOn: row.due_on,
      metOn: row.met_on,
      enteredBaseline:
        row.baseline_on !== null && row.baseline_value !== null
          ? { date: row.baseline_on, value: row.baseline_value }
          : null,
      baselineEntries: row.baseline_entries,
      phases: row.phases,
    },
  };
}

export interface StudentRow extends Pick<
  Tables["students"],
  | "student_id"
  | "given_name"
  | "family_name"
  | "preferred_name"
  | "alias"
  | "initials"
  | "grade"
  | "iep_from"
  | "iep_to"
  | "left_on"
> {}

export const studentColumns =
  "st.student_id, st.given_name, st.family_name, st.preferred_name, st.alias, st.initials, st.grade, st.iep_from, st.iep_to, st.left_on";

/** A student from their row; initials are made from the names where none are given. */
export function toStudent(row: StudentRow): Student {
  const initials = row.initials ?? initialsOf(row.given_name, row.family_name);
  return {
    studentId: row.student_id,
    name: [row.given_name, row.family_name].filter(Boolean).join(" "),
    givenName: row.given_name,
    familyName: row.family_name,
    preferredName: row.preferred_name,
    alias: row.alias,
    calledName: row.preferred_name ?? row.given_name,
    initials,
    ownInitials: row.initials,
    screenName: row.alias ?? initials,
    grade: row.grade,
    iepFrom: row.iep_from,
    iepTo: row.iep_to,
    leftOn: row.left_on,
  };
}

/** An entry as shown: with its author and the school's own date and time. */
export interface EntryRow extends Pick<
  Tables["entries"],
  | "entry_id"
  | "goal_id"
  | "student_id"
  | "author_id"
  | "observer_id"
  | "observed_on"
  | "purpose"
  | "setting"
  | "measure_version"
  | "entry"
  | "score"
  | "note"
  | "circumstances"
  | "state"
  | "revision"
  | "sitting_id"
> {
  given_name: string;
  family_name: string;
  /** Of a running total: what has come together in its week or month by this entry. */
  total_so_far: number | null;
  observer_given: string | null;
  observer_family: string | null;
  local_time: string;
  measure: Tables["goal_measures"]["measure"];
}

/** The select list of an entry; tables: `entries e`, `people p` and `o`, `goal_measures m`; binding `:timeZone`. */
export const entryColumns = `
  e.entry_id, e.goal_id, e.student_id, e.author_id, p.given_name, p.family_name, e.observer_id,
  o.given_name as observer_given, o.family_name as observer_family, e.observed_on,
  to_char(e.observed_at at time zone :timeZone, 'HH24:MI') as local_time,
  e.purpose, e.setting, e.measure_version, m.measure, e.entry, e.score, e.note,
  e.circumstances, e.state, e.revision, e.sitting_id,
  case when m.measure ->> 'kind' = 'running-total' then (
    select sum(t.value) from entries t join goals tg on tg.school_id = t.school_id and tg.goal_id = t.goal_id
    where t.school_id = e.school_id and t.goal_id = e.goal_id and t.state = 'kept'
      and (t.observed_at, t.entry_id) <= (e.observed_at, e.entry_id)
      and coalesce(tg.criterion -> 'purposes', '["probe"]') @> to_jsonb(array[e.purpose, t.purpose])
      and (m.measure ->> 'startsAgain' is null
        or date_trunc(m.measure ->> 'startsAgain', t.observed_on) = date_trunc(m.measure ->> 'startsAgain', e.observed_on))
  ) end as total_so_far`;

export const entryTables = `
  entries e
  join people p on p.school_id = e.school_id and p.person_id = e.author_id
  left join people o on o.school_id = e.school_id and o.person_id = e.observer_id
  join goal_measures m on m.school_id = e.school_id and m.goal_id = e.goal_id and m.version = e.measure_version`;

/** An entry from its row; the observer is the author where nobody else is named. */
export function toEntry(row: EntryRow): Entry {
  const author = shortName(row.given_name, row.family_name);
  const observer =
    row.observer_given === null || row.observer_family === null
      ? author
      : shortName(row.observer_given, row.observer_family);
  return {
    entryId: row.entry_id,
    goalId: row.goal_id,
    studentId: row.student_id,
    authorId: row.author_id,
    observerId: row.observer_id ?? row.author_id,
    observer,
    author: observerWords(observer, author),
    on: row.observed_on,
    time: row.local_time,
    purpose: row.purpose,
    setting: row.setting,
    sittingId: row.sitting_id,
    totalSoFar: row.total_so_far,
    measureVersion: row.measure_version,
    measure: row.measure,
    entry: row.entry,
    score: row.score,
    note: row.note,
    circumstances: row.circumstances,
    state: row.state,
    revision: row.revision,
  };
}
