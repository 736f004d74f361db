import type { Criterion, Purpose } from "#core/criteria/criterion.ts";
import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import type { Score } from "#core/measures/score.ts";
import type { GoalPhase, GoalSetup, GoalSummary } from "#core/progress/goal-figures.ts";

/** Columns of a goal as `goalColumns` selects them, with its open measure, its phases and its kept facts. */
export interface GoalRow {
  goal_id: string;
  student_id: string;
  number: string;
  area: string;
  title: string;
  wording: string;
  criterion: Criterion | null;
  baseline_on: string | null;
  baseline_value: number | null;
  due_on: string | null;
  met_on: string | null;
  measure_version: number;
  measure: Measure;
  phases: GoalPhase[];
  summary: GoalSummary | null;
}

export interface Goal {
  goalId: string;
  studentId: string;
  number: string;
  area: string;
  title: string;
  wording: string;
  measure: Measure;
  measureVersion: number;
  setup: GoalSetup;
  summary: GoalSummary | null;
}

/** The select list of a goal; tables: `goals g`, `goal_measures m`, `goal_summaries s`. */
export const goalColumns = `
  g.goal_id, g.student_id, g.number, g.area, g.title, g.wording, g.criterion, g.baseline_on, g.baseline_value, g.due_on, g.met_on,
  g.measure_version, m.measure, s.summary,
  coalesce((select jsonb_agg(jsonb_build_object('phaseId', p.phase_id, 'name', p.name, 'isBaseline', p.is_baseline,
      'startsOn', p.starts_on) order by p.starts_on)
    from goal_phases p where p.school_id = g.school_id and p.goal_id = g.goal_id), '[]') as phases`;

export const goalTables = `
  goals g
  join goal_measures m on m.school_id = g.school_id and m.goal_id = g.goal_id and m.version = g.measure_version
  join goal_summaries s on s.school_id = g.school_id and s.goal_id = g.goal_id`;

export function toGoal(row: GoalRow): Goal {
  return {
    goalId: row.goal_id,
    studentId: row.student_id,
    number: row.number,
    area: row.area,
    title: row.title,
    wording: row.wording,
    measure: row.measure,
    measureVersion: row.measure_version,
    summary: row.summary,
    setup: {
      criterion: row.criterion,
      dueOn: row.due_on,
      metOn: row.met_on,
      enteredBaseline:
        row.baseline_on !== null && row.baseline_value !== null
          ? { date: row.baseline_on, value: row.baseline_value }
          : null,
      phases: row.phases,
    },
  };
}

export interface StudentRow {
  student_id: string;
  given_name: string;
  family_name: string;
  preferred_name: string | null;
  alias: string | null;
  grade: string;
  iep_from: string | null;
  iep_to: string | null;
}

export interface Student {
  studentId: string;
  name: string;
  calledName: string;
  initials: string;
  grade: string;
  iepTo: string | null;
}

/** The first letter of a name in any script, whole where a letter takes more than one code unit. */
function firstLetter(name: string): string {
  const [segment] = new Intl.Segmenter(undefined, { granularity: "grapheme" }).segment(name.trim());
  return (segment?.segment ?? "").toUpperCase();
}

export function initialsOf(given: string, family: string): string {
  return `${firstLetter(given)}.${firstLetter(family)}.`;
}

/** "N. Halloran" */
export function shortName(given: string, family: string): string {
  return `${firstLetter(given)}. ${family}`;
}

export const studentColumns =
  "st.student_id, st.given_name, st.family_name, st.preferred_name, st.alias, st.grade, st.iep_from, st.iep_to";

export function toStudent(row: StudentRow): Student {
  return {
    studentId: row.student_id,
    name: `${row.given_name} ${row.family_name}`,
    calledName: row.preferred_name ?? row.given_name,
    initials: initialsOf(row.given_name, row.family_name),
    grade: row.grade,
    iepTo: row.iep_to,
  };
}

/** An entry as shown: with its author and the school's own date and time. */
export interface EntryRow {
  entry_id: string;
  goal_id: string;
  student_id: string;
  author_id: string;
  given_name: string;
  family_name: string;
  observed_on: string;
  local_time: string;
  purpose: Purpose;
  entry: ObservedEntry;
  score: Score;
  note: string | null;
  state: "kept" | "removed";
  revision: number;
}

export interface Entry {
  entryId: string;
  goalId: string;
  studentId: string;
  authorId: string;
  author: string;
  on: string;
  time: string;
  purpose: Purpose;
  entry: ObservedEntry;
  score: Score;
  note: string | null;
  state: "kept" | "removed";
  revision: number;
}

/** The select list of an entry; tables: `entries e`, `people p`; binding `:timeZone`. */
export const entryColumns = `
  e.entry_id, e.goal_id, e.student_id, e.author_id, p.given_name, p.family_name, e.observed_on,
  to_char(e.observed_at at time zone :timeZone, 'HH24:MI') as local_time,
  e.purpose, e.entry, e.score, e.note, e.state, e.revision`;

export const entryTables = `entries e join people p on p.school_id = e.school_id and p.person_id = e.author_id`;

export function toEntry(row: EntryRow): Entry {
  return {
    entryId: row.entry_id,
    goalId: row.goal_id,
    studentId: row.student_id,
    authorId: row.author_id,
    author: shortName(row.given_name, row.family_name),
    on: row.observed_on,
    time: row.local_time,
    purpose: row.purpose,
    entry: row.entry,
    score: row.score,
    note: row.note,
    state: row.state,
    revision: row.revision,
  };
}
