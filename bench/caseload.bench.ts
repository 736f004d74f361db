/** The caseload of 40 students with 200 goals against the raw SQL for its rows, at 10,000, 100,000 and 1,000,000 entries. */
import pg from "pg";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDue, listRecentAbsences } from "#server/db/due.ts";
import { listGroups } from "#server/db/groups.ts";
import { listColleagues } from "#server/db/handovers.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import { perSecond, statementsOf } from "./against-sql.ts";
import { compare } from "./rounds.ts";
import { daysAgo } from "#tests/clock.ts";

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const noor = demo.person("noor");
const [students, goals] = [40, 200];

/** Students with goals like one of the demo, its kept facts included, until there are so many. */
await db.owner.raw(
  `with made as (
     insert into students (school_id, student_id, given_name, family_name, grade)
     select school_id, gen_random_uuid(), 'Sample', 'Student ' || n, '4'
     from schools, generate_series(1, :students - (select count(*)::int from students)) n
     returning school_id, student_id, family_name),
   placed as (
     insert into circle (school_id, student_id, person_id, part)
     select school_id, student_id, :personId, 'lead' from made),
   wanted as (
     select made.*, row_number() over (order by n, family_name) as place, n
     from made, generate_series(1, 20) n),
   made_goals as (
     insert into goals (school_id, goal_id, student_id, number, position, area, title, wording, criterion, start_on, due_on,
       schedule, measured_by)
     select w.school_id, gen_random_uuid(), w.student_id, w.n::text, w.n, g.area, g.title, g.wording, g.criterion, g.start_on,
       g.due_on, g.schedule, g.measured_by
     from wanted w, goals g
     where g.goal_id = :goalId and w.place <= :goals - (select count(*) from goals where ended is null)
     returning school_id, goal_id, student_id),
   measured as (
     insert into goal_measures (school_id, goal_id, version, measure)
     select m.school_id, m.goal_id, 1, k.measure from made_goals m, goal_measures k where k.goal_id = :goalId and k.version = 1)
   insert into goal_summaries (school_id, goal_id, student_id, summary)
   select m.school_id, m.goal_id, m.student_id, s.summary from made_goals m, goal_summaries s where s.goal_id = :goalId`,
  { students, goals, personId: noor.personId, goalId: demo.goal("Wren", "2b") },
);

/** Entries of all goals, a day apart backwards from now, until there are so many: a week holds as many whatever the size. */
async function fillTo(entries: number): Promise<void> {
  await db.owner.raw(
    `insert into entries (school_id, entry_id, goal_id, student_id, measure_version, author_id, observed_at, observed_on,
       purpose, entry, score, value, numerator, denominator, made_hash)
     select g.school_id, gen_random_uuid(), g.goal_id, g.student_id, 1, :personId, at, at::date, 'probe',
       '{"kind":"trials","correct":7,"attempted":10}', '{"value":70,"unit":"percent","numerator":7,"denominator":10}',
       70, 7, 10, md5(g.goal_id::text || n)
     from goals g, generate_series(1, (:entries - (select count(*) from entries)) / (select count(*)::int from goals)) n,
       lateral (select now() - make_interval(days => n::int) as at) t`,
    { entries, personId: noor.personId },
  );
  await db.owner.raw("analyze entries");
}

const web = await startWebServer(db.appUrl);
const visitor = await signedIn(web.url, "noor");
const client = new pg.Client({ connectionString: db.appUrl });
await client.connect();
const today = daysAgo(0);
/** Of the spine with its dots, and of the caseload beside it: two visits, as the page makes them. */
const statements = [
  ...(await statementsOf(db, noor, null, async (scope) => [
    await listStudents(scope),
    await listDue(scope, await readCalendar(scope), today),
  ])),
  ...(await statementsOf(db, noor, null, async (scope) => {
    const calendar = await readCalendar(scope);
    return [
      await listStudents(scope),
      await listCaseloadGoals(scope),
      await listRecentAbsences(scope, today),
      await listDue(scope, calendar, today),
      await listGroups(scope),
      await listColleagues(scope),
    ];
  })),
];
for (const entries of [10_000, 100_000, 1_000_000]) {
  await fillTo(entries);
  const counted = await db.owner.raw<{ rows: { count: number }[] }>(
    "select count(*)::int as count from entries",
  );
  const count = counted.rows[0]?.count ?? 0;
  await compare(
    `The caseload with ${count} entries in the database, one after the other`,
    [
      {
        name: "the page, over HTTP",
        run: () => perSecond(20, async () => (await visitor.get("/caseload")).text()),
      },
      {
        name: "its data request, over HTTP",
        run: () => perSecond(20, async () => (await visitor.get("/caseload.data")).text()),
      },
      {
        name: "the raw SQL for the same rows",
        run: () =>
          perSecond(20, async () => {
            for (const { sql, bindings } of statements) await client.query(sql, bindings);
          }),
      },
    ],
    { rounds: 5 },
  );
}
await client.end();
await web.stop();
await db.close();
