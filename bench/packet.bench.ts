/**
 * A packet of 100 progress reports (4 goals, 40 points and 2 pictures each) as one PDF: how long it takes, the memory of the two processes that
 * make it without the browser, for 20 and for 100 students, and how fast entries are saved meanwhile. And the PDF of one student's report.
 */
import { readdirSync, readFileSync } from "node:fs";
import { setTimeout as wait } from "node:timers/promises";
import { v7 as newId } from "uuid";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";

const students = 100;
const lookEveryMs = 500;
const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const noor = demo.person("noor");
const goalId = demo.goal("Wren", "2b");

await db.owner.raw(
  `with made as (
     insert into students (school_id, student_id, given_name, family_name, grade)
     select :schoolId::uuid, gen_random_uuid(), 'Sample' || n, 'Bench' || n, '4' from generate_series(1, :students) n
     returning school_id, student_id),
   around as (
     insert into circle (school_id, student_id, person_id, part, from_on)
     select school_id, student_id, :personId::uuid, 'lead', '2026-08-01' from made),
   goal as (
     insert into goals (school_id, goal_id, student_id, number, position, area, title, wording, criterion, start_on, due_on,
       schedule, measured_by, ended_reason)
     select m.school_id, gen_random_uuid(), m.student_id, k::text, k, g.area, g.title, 'By the date, the student will subtract.',
       g.criterion, g.start_on, g.due_on, g.schedule, g.measured_by, ''
     from made m, goals g, generate_series(1, 4) k where g.goal_id = :goalId returning school_id, goal_id, student_id, start_on),
   measured as (
     insert into goal_measures (school_id, goal_id, version, measure, from_at)
     select g.school_id, g.goal_id, 1, k.measure, g.start_on from goal g, goal_measures k where k.goal_id = :goalId and k.version = 1),
   summed as (
     insert into goal_summaries (school_id, goal_id, student_id, summary) select school_id, goal_id, student_id, null from goal)
   insert into entries (school_id, entry_id, goal_id, student_id, measure_version, author_id, observed_at, observed_on, purpose, entry,
     score, value, numerator, denominator, note, made_hash)
   select g.school_id, gen_random_uuid(), g.goal_id, g.student_id, 1, :personId::uuid, at, at::date, 'probe',
     jsonb_build_object('kind', 'trials', 'correct', right_ones, 'attempted', 10),
     jsonb_build_object('value', 10 * right_ones, 'unit', 'percent', 'numerator', right_ones, 'denominator', 10),
     10 * right_ones, right_ones, 10, case when n % 5 = 0 then 'Worked at the small table.' end, md5(g.goal_id::text || n)
   from goal g, generate_series(1, 40) n,
     lateral (select '2026-09-15 17:00Z'::timestamptz + make_interval(hours => 41 * n) as at, 3 + (n * 7 % 5 + n / 12)::int as right_ones) t`,
  { schoolId: demo.schoolId, students, personId: noor.personId, goalId },
);
await db.owner.raw(
  `with source as (select p.picture_id, p.jot_id from pictures p limit 2),
   made as (
     select st.school_id, st.student_id, s.jot_id as old_jot, s.picture_id as old_picture, gen_random_uuid() as jot_id
     from students st, source s where st.family_name like 'Bench%'),
   jot as (
     insert into jots (school_id, jot_id, student_id, author_id, noted_on, category_id, content, note, made_hash)
     select m.school_id, m.jot_id, m.student_id, :personId::uuid, '2026-11-10', j.category_id, j.content, 'Sorted the tray.', md5(m.jot_id::text)
     from made m join jots j on j.jot_id = m.old_jot)
   insert into pictures (school_id, picture_id, student_id, jot_id, type, width, height, bytes, sha256, sent_sha256, content, person_id)
   select m.school_id, gen_random_uuid(), m.student_id, m.jot_id, p.type, p.width, p.height, p.bytes, p.sha256, p.sent_sha256, p.content,
     :personId::uuid from made m join pictures p on p.picture_id = m.old_picture`,
  { personId: noor.personId },
);
await db.owner.raw("analyze");
const sample = await db
  .owner("students")
  .whereLike("family_name", "Bench%")
  .orderBy("given_name")
  .pluck<string[]>("student_id");

const goals = await db
  .owner("goals")
  .whereIn("student_id", sample)
  .orderBy("goal_id")
  .select("goal_id", "student_id");

const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const visitor = await signedIn(web.url, "noor");

/**
 * The memory of each process that makes files now, in MB: `Pss` of the kernel, in which a page that several processes share, as the program
 * of Node itself, is counted once among them. What the two take together is their sum.
 */
function memory(): Map<string, number> {
  const found = new Map<string, number>();
  const read = (pid: string, file: string) => readFileSync(`/proc/${pid}/${file}`, "utf8");
  for (const pid of readdirSync("/proc").filter((name) => /^\d+$/.test(name)))
    try {
      const [, name] = /(packet-worker|print-worker)\.ts/.exec(read(pid, "cmdline")) ?? [];
      if (!name) continue;
      const [, parent = ""] = /PPid:\s+(\d+)/.exec(read(pid, "status")) ?? [];
      // The web server has one that prints too, for single files.
      if (name === "print-worker" && !read(parent, "cmdline").includes("packet-worker")) continue;
      const [, kb] = /Pss:\s+(\d+) kB/.exec(read(pid, "smaps_rollup")) ?? [];
      found.set(`${name} ${pid}`, Number(kb) / 1024);
    } catch {
      continue;
    }
  return found;
}

const post = (path: string, fields: Record<string, string>) =>
  visitor.get(path, {
    method: "POST",
    body: new URLSearchParams(fields),
    headers: { Origin: visitor.origin },
    redirect: "manual",
  });

/** Saves entries on four connections, goals in turn so that none grows much, until told to end. Answers how many a second. */
async function save(isOver: () => boolean): Promise<number> {
  let n = 0;
  const started = performance.now();
  await Promise.all(
    Array.from({ length: 4 }, async () => {
      while (!isOver()) {
        const goal = goals[n % goals.length];
        const path = `/students/${goal?.student_id}/goals/${goal?.goal_id}/record`;
        n += 1;
        await post(path, { entryId: newId(), marks: "1101110111", observedAt: "2026-10-05T10:00" });
      }
    }),
  );
  return n / ((performance.now() - started) / 1000);
}
/** The same, looking at the processes as often as while a packet is made. */
async function saveFor(ms: number): Promise<number> {
  const until = performance.now() + ms;
  const saving = save(() => performance.now() > until);
  while (performance.now() < until) {
    memory();
    await wait(lookEveryMs);
  }
  return saving;
}

/** Makes a packet of so many. Answers with seconds, megabytes, and the size of the file. */
async function make(n: number, meanwhile: boolean) {
  const packetId = newId();
  const started = performance.now();
  const answer = await post("/packets?span=all", {
    ...{ packetId, recipient: "families" },
    ...Object.fromEntries(sample.slice(0, n).map((id) => [`student.${id}`, "yes"])),
  });
  if (answer.status !== 302) throw new Error(`asked for: ${answer.status} ${await answer.text()}`);
  const highest = new Map<string, number>();
  let isOver = false;
  const saving = meanwhile ? save(() => isOver) : Promise.resolve(0);
  for (;;) {
    for (const [name, mb] of memory()) highest.set(name, Math.max(mb, highest.get(name) ?? 0));
    const row = await db.owner("packets").where({ packet_id: packetId }).first();
    if (row?.state === "done") {
      isOver = true;
      return {
        ...{
          seconds: (performance.now() - started) / 1000,
          mb: [...highest.values()].reduce((a, b) => a + b, 0),
          each: [...highest].map(([name, mb]) => `${name.split(" ")[0]} ${mb.toFixed(0)}`).join(", "),
        },
        ...{ size: (row.file_size ?? 0) / 1024 / 1024, perSecond: await saving },
      };
    }
    if (row?.state === "failed" || row?.state === "names") throw new Error(row.state);
    await wait(lookEveryMs);
  }
}

/** Makes and fetches a PDF of a student's running report. Answers with seconds. */
async function makeOne(studentId: string): Promise<number> {
  const disclosureId = newId();
  const started = performance.now();
  const asked = { disclosureId, format: "pdf", recipient: "the family", kept: "yes" };
  const answer = await post(`/students/${studentId}/files`, asked);
  if (answer.status !== 302) throw new Error(`asked for: ${answer.status} ${await answer.text()}`);
  const file = await visitor.get(`/students/${studentId}/files/${disclosureId}`);
  if (!(await file.text()).startsWith("%PDF-")) throw new Error(`fetched: ${file.status}`);
  return (performance.now() - started) / 1000;
}

const told = ({ seconds, mb, each, size }: Awaited<ReturnType<typeof make>>) =>
  `${seconds.toFixed(1)} s, ${mb.toFixed(0)} MB of memory (${each}), a PDF of ${size.toFixed(1)} MB`;
try {
  await saveFor(3000);
  const alone = await saveFor(8000);
  const wren = demo.student("Wren");
  const first = await makeOne(wren);
  const singles: number[] = [];
  for (let n = 0; n < 9; n += 1) singles.push(await makeOne(wren));
  singles.sort((a, b) => a - b);
  const twenty = await make(20, false);
  const hundred = await make(students, false);
  const busy = await make(students, true);
  console.log(
    `\nOne PDF of a whole report: ${first.toFixed(2)} s the first, then ${singles[4]?.toFixed(2)} s (middle of 9, longest ${singles[8]?.toFixed(2)} s)`,
  );
  console.log(`A packet of 20 reports: ${told(twenty)}`);
  console.log(`A packet of ${students} reports: ${told(hundred)}`);
  console.log(`  memory, ratio to 20 reports: ${(hundred.mb / twenty.mb).toFixed(2)}`);
  console.log(`While entries are saved on four connections: ${told(busy)}`);
  console.log(
    `  saves a second: ${busy.perSecond.toFixed(0)}, ratio to those without a packet (${alone.toFixed(0)}): ${(busy.perSecond / alone).toFixed(2)}`,
  );
} finally {
  await web.stop();
  await db.close();
}
