// Made from the database by `npm run row-types`; a test says when it is old. Not written by hand.
import type { Criterion } from "#core/criteria/criterion.ts";
import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import type { Score } from "#core/measures/score-schema.ts";
import type { Circumstances } from "#core/model/entry.ts";
import type { GoalSummary } from "#core/progress/goal-figures.ts";
import type { Schedule } from "#core/schedule/schedule.ts";

/** A row of each table, as the driver reads it. */
export interface Tables {
  absences: {
    school_id: string;
    student_id: string;
    absent_on: string;
    person_id: string;
    at: Date;
  };
  audiences: {
    school_id: string;
    audience: "team" | "family" | "file" | "own";
    name: string | null;
    settings: unknown;
  };
  audit: {
    school_id: string;
    audit_id: string;
    at: Date;
    person_id: string | null;
    act: string;
    thing: string;
    thing_id: string | null;
    student_id: string | null;
    actor_kind: "person" | "job" | "link" | "student";
    actor_id: string | null;
    job: string | null;
    about_on: string | null;
  };
  backup_runs: {
    at: Date;
    kind: "made" | "checked" | "failed";
  };
  choices: {
    school_id: string;
    choice_id: string;
    student_id: string;
    list: "setting" | "antecedent" | "behavior" | "consequence" | "setting event";
    name: string;
    definition: string | null;
    position: number;
    once: boolean;
    retired_on: string | null;
  };
  circle: {
    school_id: string;
    student_id: string;
    person_id: string;
    part: "lead" | "record" | "read";
    from_on: string;
    to_on: string | null;
  };
  closures: {
    school_id: string;
    closure_id: string;
    name: string;
    from_on: string;
    to_on: string;
  };
  device_keys: {
    school_id: string;
    person_id: string;
    device_id: string;
    key: Buffer | null;
    name: string;
    made_at: Date;
    used_at: Date;
    forgotten_at: Date | null;
  };
  edition_shares: {
    school_id: string;
    share_id: string;
    edition_id: string;
    how: "printed" | "in the meeting" | "mailed" | "family page" | "other";
    shared_on: string;
    note: string | null;
    person_id: string;
    at: Date;
  };
  editions: {
    school_id: string;
    edition_id: string;
    student_id: string;
    number: number;
    audience: "team" | "family" | "file" | "own";
    language: "en" | "es";
    from_on: string | null;
    to_on: string;
    made_on: string;
    made_at: Date;
    person_id: string;
    replaces: string | null;
    changes: unknown;
    content: string;
    sha256: string;
  };
  entries: {
    school_id: string;
    entry_id: string;
    goal_id: string;
    student_id: string;
    measure_version: number;
    author_id: string;
    observed_at: Date;
    observed_on: string;
    purpose: "probe" | "teaching" | "generalisation" | "maintenance";
    entry: ObservedEntry;
    score: Score;
    value: number | null;
    numerator: number | null;
    denominator: number | null;
    note: string | null;
    state: "kept" | "removed";
    revision: number;
    made_hash: string;
    saved_at: Date;
    setting: string | null;
    sitting_id: string | null;
    circumstances: Circumstances;
    device_at: Date | null;
    observer_id: string | null;
    clock_ahead: string | null;
  };
  family_questions: {
    school_id: string;
    question_id: string;
    student_id: string;
    guardian_id: string;
    words: string;
    asked_at: Date;
    answer: string | null;
    answered_by: string | null;
    answered_at: Date | null;
  };
  goal_decisions: {
    school_id: string;
    decision_id: string;
    student_id: string;
    goal_id: string;
    author_id: string;
    kind: "keep going" | "raise" | "change instruction" | "new phase" | "more data" | "taught as planned";
    decided_on: string;
    reason: string;
    phase_name: string | null;
    made_at: Date;
    removed_at: Date | null;
    removed_by: string | null;
    revision: number;
  };
  goal_measures: {
    school_id: string;
    goal_id: string;
    version: number;
    measure: Measure;
    from_at: Date;
    closed_at: Date | null;
    renamed: unknown;
    student_id: string | null;
  };
  goal_phases: {
    school_id: string;
    phase_id: string;
    goal_id: string;
    name: string;
    is_baseline: boolean;
    starts_on: string;
    reason: string;
    student_id: string | null;
  };
  goal_summaries: {
    school_id: string;
    goal_id: string;
    student_id: string;
    summary: GoalSummary | null;
  };
  goal_templates: {
    school_id: string;
    template_id: string;
    title: string;
    area: string;
    wording: string;
    set_up: unknown;
    made_by: string;
    made_at: Date;
    changed_at: Date;
    removed_at: Date | null;
  };
  goals: {
    school_id: string;
    goal_id: string;
    student_id: string;
    number: string;
    position: number;
    area: string;
    title: string;
    wording: string;
    criterion: Criterion | null;
    baseline_on: string | null;
    baseline_value: number | null;
    start_on: string | null;
    due_on: string | null;
    met_on: string | null;
    measure_version: number;
    parent_id: string | null;
    annual_review_on: string | null;
    baseline_entries: number | null;
    schedule: Schedule | null;
    strategy: string;
    measured_by: string | null;
    ended: "discontinued" | "continued" | null;
    ended_on: string | null;
    ended_reason: string;
    continues: string | null;
    figures_from_version: number;
    revision: number;
  };
  group_members: {
    school_id: string;
    group_id: string;
    student_id: string;
  };
  groups: {
    school_id: string;
    group_id: string;
    name: string;
    meets: unknown;
    retired_on: string | null;
  };
  guardians: {
    school_id: string;
    guardian_id: string;
    student_id: string;
    name: string;
    relation: string;
    email: string | null;
    language: "en" | "es";
    no_access_reason: string | null;
    person_id: string;
    made_at: Date;
    removed_at: Date | null;
  };
  handovers: {
    school_id: string;
    handover_id: string;
    from_id: string;
    person_id: string;
    at: Date;
  };
  held_items: {
    school_id: string;
    item_id: string;
    student_id: string;
    person_id: string;
    item: unknown;
    observed_at: Date;
    received_at: Date;
    decision: "accepted" | "left out" | null;
    decided_by: string | null;
    decided_at: Date | null;
  };
  incident_choices: {
    school_id: string;
    incident_id: string;
    choice_id: string;
  };
  incident_settings: {
    school_id: string;
    settings: unknown;
  };
  incidents: {
    school_id: string;
    incident_id: string;
    student_id: string;
    author_id: string;
    observer_id: string | null;
    occurred_on: string;
    occurred_at: Date | null;
    period: string | null;
    content: unknown;
    note: string | null;
    ongoing: boolean;
    same_as: string | null;
    apart_from: string[];
    state: "kept" | "removed";
    revision: number;
    made_hash: string;
    device_at: Date | null;
    clock_ahead: string | null;
    saved_at: Date;
    facts_missing: string[];
  };
  jot_categories: {
    school_id: string;
    category_id: string;
    name: string;
    levels: unknown;
    position: number;
    retired_on: string | null;
  };
  jots: {
    school_id: string;
    jot_id: string;
    student_id: string;
    author_id: string;
    observer_id: string | null;
    noted_on: string;
    noted_at: Date | null;
    period: string | null;
    category_id: string | null;
    content: unknown;
    note: string | null;
    own: boolean;
    team_only: boolean;
    state: "kept" | "removed";
    revision: number;
    made_hash: string;
    device_at: Date | null;
    clock_ahead: string | null;
    saved_at: Date;
  };
  ladders: {
    school_id: string;
    ladder_id: string;
    name: string;
    levels: unknown;
    misses: unknown;
    position: number;
    retired_on: string | null;
  };
  migration_sums: {
    name: string;
    sum: string;
  };
  no_names: {
    school_id: string;
    student_id: string;
    form: string;
    person_id: string;
    at: Date;
  };
  not_measured: {
    school_id: string;
    note_id: string;
    goal_id: string;
    student_id: string;
    sitting_id: string | null;
    person_id: string;
    observed_at: Date;
    observed_on: string;
    reason: "refused" | "interrupted";
    note: string | null;
    saved_at: Date;
    removed_at: Date | null;
    removed_by: string | null;
    revision: number;
    note_for_team: boolean;
  };
  open_sittings: {
    school_id: string;
    sitting_id: string;
    person_id: string;
    device_id: string;
    started_at: Date;
    seen_at: Date;
    goals: unknown;
  };
  pattern_notes: {
    school_id: string;
    note_id: string;
    student_id: string;
    author_id: string;
    words: string;
    strength: "strong" | "weak";
    from_on: string;
    to_on: string;
    noted_on: string;
    noted_at: Date;
    removed_at: Date | null;
    removed_by: string | null;
  };
  people: {
    school_id: string;
    person_id: string;
    given_name: string;
    family_name: string;
    preferred_name: string | null;
    position: string;
    role: "administrator" | "staff";
    email: string | null;
    source_id: string | null;
    case_manager: boolean;
    left_on: string | null;
    letter_keys: "plain" | "alt" | "off";
    trail_over: boolean;
  };
  pictures: {
    school_id: string;
    picture_id: string;
    student_id: string;
    jot_id: string;
    type: "image/jpeg" | "image/png" | "image/webp";
    width: number;
    height: number;
    bytes: number;
    sha256: string;
    sent_sha256: string;
    content: Buffer | null;
    person_id: string;
    at: Date;
  };
  pins: {
    school_id: string;
    person_id: string;
    pin_hash: string;
    set_at: Date;
  };
  plans: {
    school_id: string;
    plan_id: string;
    student_id: string;
    author_id: string;
    name: string;
    thinking: string;
    trying: string;
    begins_on: string;
    ends_on: string | null;
    state: "kept" | "removed";
    revision: number;
  };
  progress_statements: {
    school_id: string;
    statement_id: string;
    student_id: string;
    goal_id: string;
    period_name: string;
    from_on: string;
    to_on: string;
    words: string;
    translation: string;
    with_numbers: boolean;
    rating_id: string | null;
    author_id: string;
    ready_by: string | null;
    ready_at: Date | null;
    facts: unknown;
    revision: number;
  };
  rate_limits: {
    key: string;
    points: number;
    expire: string | null;
  };
  ready_check: {
    only_row: boolean;
    at: Date;
  };
  releases: {
    school_id: string;
    student_id: string;
    thing: "entry" | "jot";
    thing_id: string;
    person_id: string;
    at: Date;
  };
  report_views: {
    school_id: string;
    student_id: string;
    person_id: string;
    seen_at: Date;
  };
  reporting_periods: {
    school_id: string;
    period_id: string;
    name: string;
    from_on: string;
    to_on: string;
  };
  revisions: {
    school_id: string;
    thing: "entry" | "incident" | "not measured" | "decision" | "goal" | "plan" | "jot" | "statement";
    thing_id: string;
    revision: number;
    act: string;
    person_id: string | null;
    at: Date;
    reason: string | null;
    content: unknown;
    content_hash: string | null;
  };
  school_lists: {
    school_id: string;
    list: "area" | "setting";
    item_id: string;
    name: string;
    position: number;
  };
  school_years: {
    school_id: string;
    year_id: string;
    name: string;
    from_on: string;
    to_on: string;
  };
  schools: {
    school_id: string;
    name: string;
    time_zone: string;
    made_at: Date;
    school_days: number[];
    late_press_days: number;
    locale: "en-US" | "en-CA" | "en-GB";
    names_salt: Buffer;
    edition_years: number | null;
    second_step_for: "nobody" | "administrators" | "administrators and case managers";
  };
  second_observations: {
    school_id: string;
    observation_id: string;
    goal_id: string;
    student_id: string;
    measure_version: number;
    with_sitting_id: string | null;
    person_id: string;
    observed_at: Date;
    observed_on: string;
    entry: ObservedEntry;
    score: Score;
    note: string | null;
    made_hash: string;
    removed_at: Date | null;
    removed_by: string | null;
    saved_at: Date;
    own: boolean;
  };
  sittings: {
    school_id: string;
    sitting_id: string;
    person_id: string;
    started_at: Date;
  };
  statement_ratings: {
    school_id: string;
    rating_id: string;
    name: string;
    spanish: string;
    position: number;
    retired_on: string | null;
  };
  statement_writers: {
    school_id: string;
    goal_id: string;
    student_id: string;
    person_id: string;
  };
  student_audiences: {
    school_id: string;
    student_id: string;
    audience: "team" | "family" | "file" | "own";
    settings: unknown;
  };
  students: {
    school_id: string;
    student_id: string;
    given_name: string;
    family_name: string;
    preferred_name: string | null;
    alias: string | null;
    grade: string;
    iep_from: string | null;
    iep_to: string | null;
    source_id: string | null;
    left_on: string | null;
    initials: string | null;
    born_on: string | null;
    family_after: "ended" | "student agrees" | null;
  };
  tallies: {
    school_id: string;
    goal_id: string;
    tally_on: string;
    student_id: string;
    measure_version: number;
    opened_by: string;
    opened_at: Date;
    closed_by: string | null;
    seen_from: Date | null;
    seen_to: Date | null;
    entry_id: string | null;
    entry_revision: number | null;
    settled_by: string | null;
    settled_at: Date | null;
  };
  tally_presses: {
    school_id: string;
    press_id: string;
    goal_id: string;
    tally_on: string;
    person_id: string;
    written_by: string | null;
    at: Date;
    device_at: Date;
    back: boolean;
    saved_at: Date;
    asks: "count it" | "take it back" | null;
    student_id: string | null;
  };
  timetable: {
    school_id: string;
    slot_id: string;
    weekday: number;
    name: string;
    starts_at: string;
    ends_at: string;
  };
  watched_days: {
    school_id: string;
    student_id: string;
    watched_on: string;
    period: string;
    state: "none" | "not observed";
    marked_by: string;
    marked_at: Date;
  };
}
