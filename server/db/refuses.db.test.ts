import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type OpenDatabase, openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";

let db: OpenDatabase;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  // A row of every table that is tried, where the demo has none: made by the owner, who is not asked for a history.
  const [noor, wren] = [demo.person("noor").personId, demo.student("Wren")];
  const goal = demo.goal("Wren", "2b");
  const [school, count] = [demo.schoolId, demo.goal("Caspian", "2")];
  const rows = `insert into not_measured (school_id, note_id, goal_id, student_id, person_id, observed_at, observed_on, reason)
     values ('${school}', gen_random_uuid(), '${goal}', '${wren}', '${noor}', '2026-11-02T18:00Z', '2026-11-02', 'refused');
     insert into second_observations (school_id, observation_id, goal_id, student_id, measure_version, person_id, observed_at,
       observed_on, entry, score, made_hash)
     values ('${school}', gen_random_uuid(), '${goal}', '${wren}', 1, '${noor}', '2026-11-02T18:00Z', '2026-11-02', '{}', '{}', 'x');
     insert into goal_decisions (school_id, decision_id, student_id, goal_id, author_id, kind, decided_on, reason)
     select school_id, gen_random_uuid(), student_id, goal_id, '${noor}', 'more data', '2026-11-02', 'too few'
       from goals where goal_id in ('${goal}', '${count}');
     insert into pattern_notes (school_id, note_id, student_id, author_id, words, strength, from_on, to_on, noted_on)
     values ('${school}', gen_random_uuid(), '${wren}', '${noor}', 'words', 'weak', '2026-09-01', '2026-11-01', '2026-11-02');
     insert into sittings (school_id, sitting_id, person_id, started_at) values ('${school}', gen_random_uuid(), '${noor}', '2026-11-02T18:00Z');
     insert into handovers (school_id, handover_id, from_id, person_id) values ('${school}', gen_random_uuid(), '${noor}', '${noor}');
     insert into ladders (school_id, ladder_id, name, levels, position) values ('${school}', gen_random_uuid(), 'ours', '["alone"]', 0);
     insert into tallies (school_id, goal_id, tally_on, student_id, measure_version, opened_by, opened_at)
       select school_id, goal_id, '2026-11-03', student_id, 1, '${noor}', '2026-11-03T16:00Z' from goals where goal_id = '${count}';
     insert into tally_presses (school_id, press_id, goal_id, tally_on, person_id, at, device_at)
       values ('${school}', gen_random_uuid(), '${count}', '2026-11-03', '${noor}', '2026-11-03T17:00Z', '2026-11-03T17:00Z')`;
  for (const row of rows.split(";")) await db.owner.raw(row);
});
afterAll(() => db.close());

/** What becomes of statements of the application's role within its school: "taken", or the error and the constraint that it names. */
async function tried(...statements: readonly string[]): Promise<string> {
  const undo = new Error("undo");
  try {
    await db.app.transaction(async (trx) => {
      await trx.raw("select gate.enter(?, null)", [demo.person("noor").session]);
      for (const statement of statements) {
        const { rowCount } = await trx.raw<{ rowCount: number }>(statement.replaceAll("?", "\\?"));
        // A statement that touches nothing would prove nothing.
        expect(rowCount, statement).toBeGreaterThan(0);
      }
      await trx.raw("set constraints all immediate");
      throw undo;
    });
  } catch (error) {
    if (error === undo) return "taken";
    const { code, constraint } = error as { code?: string; constraint?: string };
    if (code === undefined) throw error;
    return [code, constraint].filter(Boolean).join(" ");
  }
  return "taken";
}

/** The same row once more, but for these columns: as SQL, a text for each. */
const copy = (table: string, change: Record<string, string>, where = "true") =>
  `insert into ${table} select n.* from (select * from ${table} where ${where} limit 1) t,
     jsonb_populate_record(null::public.${table}, to_jsonb(t) || jsonb_build_object(${Object.entries(change)
       .map(([column, value]) => `'${column}', ${value}`)
       .join(", ")})) n`;
const id = "gen_random_uuid()";
const wren = () => `'${demo.student("Wren")}'`;
const ofWren = () => `'${demo.goal("Wren", "2b")}'`;
const ofCaspian = () => `'${demo.goal("Caspian", "2")}'`;
const trialsOfWren = () => `goal_id = ${ofWren()}`;

describe("the database itself", () => {
  it("takes what is right: a new entry with its first step, and its correction with the next", async () => {
    const made = "01900000-0000-7000-8000-00000000000a";
    const step = (revision: number, act: string) =>
      `insert into revisions (school_id, thing, thing_id, revision, act, content)
       select school_id, 'entry', entry_id, ${revision}, '${act}', '{}' from entries where entry_id = '${made}'`;
    const entry = copy("entries", { entry_id: `'${made}'`, revision: "1", state: "'kept'" }, trialsOfWren());
    const correction = `update entries set note = 'other', revision = 2 where entry_id = '${made}'`;
    expect(await tried(entry, step(1, "made"), correction, step(2, "corrected"))).toBe("taken");
    expect(await tried(entry)).toBe("23514 keep_history");
    expect(await tried(entry, step(1, "made"), correction)).toBe("23514 keep_history");
  });

  it("lets the application change no column that never changes, and delete nothing that was recorded", async () => {
    const never: Record<string, string[]> = {
      entries: [
        ...["school_id", "entry_id", "goal_id", "student_id", "author_id", "measure_version", "made_hash"],
        ...["saved_at", "device_at", "clock_ahead", "sitting_id"],
      ],
      incidents: ["student_id", "author_id", "made_hash", "saved_at"],
      goals: ["goal_id", "student_id"],
      goal_measures: ["measure", "version", "from_at", "renamed"],
      goal_summaries: ["goal_id", "student_id"],
      goal_decisions: ["goal_id", "student_id", "author_id", "kind", "phase_name"],
      plans: ["student_id", "author_id"],
      pattern_notes: ["words", "author_id", "noted_on"],
      second_observations: ["entry", "score", "person_id", "goal_id"],
      not_measured: ["person_id", "goal_id", "observed_on"],
      tallies: ["opened_by", "measure_version", "student_id"],
      tally_presses: ["at", "person_id", "goal_id", "device_at"],
      choices: ["student_id", "list"],
      students: ["student_id", "source_id"],
      people: ["person_id", "source_id"],
      circle: ["student_id", "person_id"],
      schools: ["school_id", "made_at"],
      revisions: ["content", "act", "person_id", "at"],
      audit: ["act", "person_id", "at"],
      sittings: ["person_id"],
      handovers: ["person_id"],
    };
    for (const [table, columns] of Object.entries(never))
      for (const column of columns)
        expect([table, column, await tried(`update ${table} set ${column} = ${column}`)]).toEqual([
          ...[table, column, "42501"],
        ]);
    const kept = [
      ...[
        "entries",
        "incidents",
        "revisions",
        "audit",
        "goals",
        "goal_measures",
        "students",
        "people",
        "circle",
      ],
      ...["plans", "goal_decisions", "pattern_notes", "second_observations", "not_measured", "tallies"],
      ...["tally_presses", "choices", "sittings", "handovers", "schools"],
    ];
    for (const table of kept)
      for (const statement of [`delete from ${table}`, `truncate ${table} cascade`])
        expect([statement, await tried(statement)]).toEqual([statement, "42501"]);
  });

  it("refuses an observation of another student's goal, of a measure that is not there, or by nobody", async () => {
    const foreign: [table: string, change: Record<string, string>, where?: string][] = [
      ["entries", { entry_id: id, goal_id: ofCaspian() }, trialsOfWren()],
      ["entries", { entry_id: id, measure_version: "99" }],
      ["entries", { entry_id: id, author_id: id }],
      ["entries", { entry_id: id, observer_id: id }],
      ["entries", { entry_id: id, sitting_id: id }],
      ["second_observations", { observation_id: id, goal_id: ofCaspian() }],
      ["second_observations", { observation_id: id, measure_version: "99" }],
      ["not_measured", { note_id: id, goal_id: ofCaspian() }],
      ["goal_decisions", { decision_id: id, goal_id: ofWren() }, `student_id <> ${wren()}`],
      ["tallies", { tally_on: "'2026-11-04'", student_id: wren() }],
      ["tallies", { tally_on: "'2026-11-04'", measure_version: "99" }],
      ["tally_presses", { press_id: id, tally_on: "'2026-11-05'", at: "'2026-11-05T17:00Z'" }],
      ["incidents", { incident_id: id, student_id: id }],
      [
        "incidents",
        {
          incident_id: id,
          same_as: `(select incident_id from incidents where student_id = ${wren()} limit 1)`,
        },
        `student_id <> ${wren()}`,
      ],
      ["plans", { plan_id: id, student_id: id }],
      ["goals", { goal_id: id, parent_id: ofCaspian(), number: "'x'" }, trialsOfWren()],
      ["goals", { goal_id: id, number: "'x'" }, trialsOfWren()],
      ["watched_days", { student_id: id }],
      ["absences", { student_id: id, absent_on: "'2026-11-02'" }],
      ["revisions", { thing_id: id, person_id: id }],
      ["circle", { person_id: id }],
      ["group_members", { student_id: id }],
    ];
    // A student who is not there is in nobody's circle: the second lock says so first.
    for (const [table, change, where] of foreign)
      expect([table, change, await tried(copy(table, change, where))]).toEqual([
        ...[
          table,
          change,
          expect.stringMatching("student_id" in change && change.student_id === id ? /^42501/ : /^23503/),
        ],
      ]);
    const another = `insert into incident_choices select i.school_id, i.incident_id, c.choice_id
      from incidents i join choices c on c.school_id = i.school_id and c.student_id <> i.student_id limit 1`;
    expect(await tried(another)).toBe("23503 own_choice");
    // The entry of a tally is one of its own goal.
    const entry = `(select entry_id from entries where goal_id = ${ofWren()} limit 1)`;
    const closed = `update tallies set entry_id = ${entry}, entry_revision = 1, closed_by = opened_by,
      seen_from = '2026-11-03T16:00Z', seen_to = '2026-11-03T17:00Z' where goal_id = ${ofCaspian()} and entry_id is null`;
    expect(await tried(closed)).toMatch(/^23503/);
  });

  it("refuses numbers, days and shapes that cannot be", async () => {
    const noNumber = "'NaN'";
    const wrong: [table: string, change: Record<string, string>, where?: string][] = [
      ["entries", { entry_id: id, value: noNumber }],
      ["entries", { entry_id: id, value: "'Infinity'" }],
      ["entries", { entry_id: id, value: "'12345.5'" }],
      ["entries", { entry_id: id, numerator: "-1" }, trialsOfWren()],
      ["entries", { entry_id: id, numerator: noNumber }, trialsOfWren()],
      ["entries", { entry_id: id, numerator: "1000" }, trialsOfWren()],
      ["entries", { entry_id: id, denominator: "-1" }, trialsOfWren()],
      ["entries", { entry_id: id, entry: "'[]'::jsonb" }],
      ["entries", { entry_id: id, score: "'3'::jsonb" }],
      ["entries", { entry_id: id, circumstances: "'[]'::jsonb" }],
      ["entries", { entry_id: id, observed_on: "'1999-12-31'", observed_at: "'1999-12-31T18:00Z'" }],
      ["entries", { entry_id: id, observed_on: "'0001-01-01'", observed_at: "'0001-01-01T18:00Z'" }],
      ["entries", { entry_id: id, observed_at: "'2026-01-05T18:00Z'" }, "observed_on > '2026-02-01'"],
      ["entries", { entry_id: id, observed_on: "'2027-01-05'", observed_at: "'2027-01-05T18:00Z'" }],
      ["entries", { entry_id: id, revision: "0" }],
      ["entries", { entry_id: id, purpose: "'trial'" }],
      ["entries", { entry_id: id, state: "'gone'" }],
      ["entries", { entry_id: id, note: "repeat('x', 2001)" }],
      ["second_observations", { observation_id: id, entry: "'[]'::jsonb" }],
      ["second_observations", { observation_id: id, removed_at: "now()" }],
      ["second_observations", { observation_id: id, observed_on: "'2026-10-02'" }],
      ["not_measured", { note_id: id, reason: "'tired'" }],
      ["not_measured", { note_id: id, removed_by: `'${demo.person("noor").personId}'` }],
      ["not_measured", { note_id: id, observed_on: "'2027-03-05'", observed_at: "'2027-03-05T18:00Z'" }],
      ["incidents", { incident_id: id, content: "'[]'::jsonb" }],
      ["incidents", { incident_id: id, occurred_on: "'0001-01-01'", occurred_at: "null" }],
      ["incidents", { incident_id: id, occurred_on: "'2027-05-05'", occurred_at: "null" }],
      [
        "incidents",
        { incident_id: id, occurred_on: "'2026-09-01'" },
        "occurred_on > '2026-10-01' and occurred_at is not null",
      ],
      ["incidents", { incident_id: id, period: "'Math'" }, "occurred_at is not null"],
      ["incidents", { incident_id: `'${demo.schoolId}'`, same_as: `'${demo.schoolId}'` }],
      ["incidents", { incident_id: `'${demo.schoolId}'`, apart_from: `array['${demo.schoolId}']` }],
      ["tallies", { tally_on: "'1999-11-04'" }],
      ["tallies", { tally_on: "'2026-11-04'", entry_id: id }],
      ["tallies", { tally_on: "'2026-11-04'", entry_revision: "1" }],
      ["tallies", { tally_on: "'2026-11-04'", settled_at: "now()" }],
      ["tallies", { tally_on: "'2026-11-04'", seen_from: "now()", seen_to: "now() - interval '1 hour'" }],
      ["tally_presses", { press_id: id, at: "'2026-11-09T17:00Z'" }],
      ["tally_presses", { press_id: id, asks: "'perhaps'" }],
      ["goals", { goal_id: id, baseline_value: noNumber, number: "'x'" }],
      ["goals", { goal_id: id, start_on: "'2027-09-01'", due_on: "'2026-09-01'", number: "'x'" }],
      ["goals", { goal_id: id, due_on: "'9999-09-01'", number: "'x'" }],
      ["goals", { goal_id: id, figures_from_version: "7", number: "'x'" }],
      ["goals", { goal_id: `'${demo.schoolId}'`, parent_id: `'${demo.schoolId}'`, number: "'x'" }],
      ["goals", { goal_id: id, ended: "'continued'", ended_on: "null", number: "'x'" }],
      ["goal_measures", { version: "0" }],
      ["goal_measures", { version: "50", measure: "'[]'::jsonb" }],
      ["goal_phases", { phase_id: id, starts_on: "'0001-01-01'" }],
      ["goal_decisions", { decision_id: id, decided_on: "'9999-01-01'" }],
      ["goal_decisions", { decision_id: id, kind: "'guess'" }],
      ["plans", { plan_id: id, begins_on: "'2026-10-01'", ends_on: "'2026-09-01'" }],
      ["plans", { plan_id: id, begins_on: "'0001-10-01'" }],
      ["pattern_notes", { note_id: id, words: "'other'", from_on: "'2026-10-01'", to_on: "'2026-09-01'" }],
      ["students", { student_id: id, source_id: "null", iep_from: "'2026-10-01'", iep_to: "'2026-09-01'" }],
      ["absences", { absent_on: "'0001-10-01'" }],
      ["watched_days", { watched_on: "'0001-10-01'" }],
      ["watched_days", { watched_on: "'2027-10-01'" }],
      ["watched_days", { watched_on: "'2026-10-01'", state: "'some'" }],
      ["revisions", { thing_id: id, act: "'bent'" }],
      ["revisions", { thing_id: id, revision: "0" }],
      ["revisions", { thing_id: id, content: "'[]'::jsonb" }],
      ["revisions", { thing_id: id, thing: "'entry'", act: "'made'", revision: "2" }],
      ["ladders", { ladder_id: id, levels: "'{}'::jsonb" }],
      ["groups", { group_id: id, meets: "'{}'::jsonb" }],
      ["school_years", { year_id: id, to_on: "'9999-01-01'" }],
      ["school_years", { year_id: id, from_on: "'2026-10-01'", to_on: "'2026-09-01'" }],
      ["timetable", { slot_id: id, weekday: "9" }],
      ["choices", { choice_id: id, name: "''" }],
      ["people", { person_id: id, role: "'owner'", source_id: "null" }],
    ];
    for (const [table, change, where] of wrong) {
      const answer = await tried(copy(table, change, where));
      expect([table, change, answer]).toEqual([table, change, expect.stringMatching(/^23514/)]);
      expect([table, change, answer]).not.toEqual([table, change, "23514 keep_history"]);
    }
    for (const statement of [
      "update schools set school_days = '{1,9}'",
      "update schools set late_press_days = 99",
      "update circle set from_on = '2026-10-01', to_on = '2026-09-01'",
    ])
      expect([statement, await tried(statement)]).toEqual([statement, expect.stringMatching(/^23514/)]);
  });

  it("refuses a change of what has a history without its next step", async () => {
    for (const statement of [
      "update entries set note = 'bent'",
      "update entries set state = 'removed' where state = 'kept'",
      "update entries set purpose = 'teaching' where purpose = 'probe'",
      "update entries set circumstances = '{\"interrupted\": true}'",
      "update entries set observed_at = observed_at - interval '1 hour'",
      "update entries set observer_id = author_id",
      "update entries set revision = revision + 1",
      "update entries set note = 'bent', revision = revision + 2",
      "update incidents set note = 'bent'",
      "update incidents set ongoing = not ongoing",
      "update incidents set state = 'removed' where state = 'kept'",
      "update incidents set facts_missing = '{Who}'",
      `update incidents i set same_as = o.incident_id from incidents o where o.student_id = i.student_id
         and o.incident_id > i.incident_id`,
      "update plans set trying = 'bent'",
      "update plans set state = 'removed' where state = 'kept'",
      "update goal_decisions set reason = 'bent'",
      "update goal_decisions set removed_at = now(), removed_by = author_id where removed_at is null",
      "update not_measured set reason = 'interrupted'",
      "update not_measured set note = 'bent'",
      "update goals set wording = 'bent'",
      "update goals set criterion = '{}'",
      "update goals set met_on = '2026-11-01'",
      "update goals set measured_by = null where measured_by is not null",
      "update goals set ended = 'discontinued', ended_on = '2026-11-01' where ended is null",
      copy("incidents", { incident_id: id, same_as: "null" }),
      copy("plans", { plan_id: id }),
      copy("goal_decisions", { decision_id: id }),
      copy("not_measured", { note_id: id }),
    ])
      expect([statement, await tried(statement)]).toEqual([statement, "23514 keep_history"]);
    // Order and numbering are the page's, and which incidents are others is no part of what was seen.
    expect(await tried("update goals set position = position + 1")).toBe("taken");
    expect(await tried(`update incidents set apart_from = array['${demo.schoolId}'::uuid]`)).toBe("taken");
  });
});
