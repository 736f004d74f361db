/**
 * 20,000 incidents of one school: the patterns page of a student with 400 of them against the raw SQL that fetches their rows, and
 * how soon the page answers in the browser when another behavior is chosen, against putting one new word on the screen.
 */
import { chromium } from "@playwright/test";
import pg from "pg";
import { openThrowaway } from "#tests/database.ts";
import { demoIds, inScope } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { listPatternIncidents, listSchoolIncidents } from "#server/db/incident-lists.ts";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { compare } from "./rounds.ts";
import { browserPath } from "#tests/browser.ts";

const inSchool = 20_000;
const ofStudent = 400;

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const wren = demo.student("Wren");
await fill();
const web = await startWebServer(db.appUrl);
const visitor = await signedIn(web.url, "noor");
const client = new pg.Client({ connectionString: db.appUrl });
await client.connect();

/** Copies of Wren's incidents on other days and times of the year so far: some to Wren, the rest to fifty more students. */
async function fill(): Promise<void> {
  const about = { schoolId: demo.schoolId, wren, ofStudent, inSchool };
  await db.owner.raw(
    `insert into students (school_id, student_id, given_name, family_name)
     select school_id, gen_random_uuid(), 'Copy', 'No ' || n from students, generate_series(1, 50) n
     where school_id = :schoolId and student_id = :wren`,
    about,
  );
  const copy = `insert into incidents (school_id, incident_id, student_id, author_id, occurred_on, occurred_at, content, made_hash)
     select i.school_id, gen_random_uuid(), s.student_id, i.author_id, i.occurred_on - n % 70,
       i.occurred_at - make_interval(days => n % 70, mins => n % 37), i.content, i.made_hash
     from (select *, row_number() over () as place from incidents where school_id = :schoolId and student_id = :wren) i
     cross join generate_series(1, :times) n
     join (select student_id, row_number() over () as place from students
       where school_id = :schoolId and :students) s on :matching
     limit :limit`;
  const made = async (students: string, matching: string, times: number, limit: number): Promise<void> => {
    await db.owner.raw(copy.replace(":students", students).replace(":matching", matching), {
      ...about,
      times,
      limit,
    });
  };
  const [{ n: there } = { n: "0" }] = await db
    .owner("incidents")
    .where({ student_id: wren })
    .count({ n: "*" });
  await made("student_id = :wren", "true", 20, ofStudent - Number(there));
  const [{ n: all } = { n: "0" }] = await db.owner("incidents").count({ n: "*" });
  await made("given_name = 'Copy'", "s.place = 1 + n % 50", 1000, inSchool - Number(all));
  await db.owner.raw("analyze");
}

async function perSecond(times: number, work: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  for (let count = 0; count < times; count += 1) await work();
  return times / ((performance.now() - started) / 1000);
}

async function statementsOf(work: (scope: Parameters<Parameters<typeof inScope>[3]>[0]) => Promise<unknown>) {
  const statements: { sql: string; bindings: unknown[] }[] = [];
  const note = ({ sql, bindings }: { sql: string; bindings?: unknown[] }) =>
    statements.push({ sql, bindings: bindings ?? [] });
  db.app.on("query", note);
  await inScope(db.app, demo.person("noor"), wren, work);
  db.app.removeListener("query", note);
  return statements.filter(({ sql }) => sql.startsWith("select"));
}

const times = 20;
const text = (path: string) => async () => (await visitor.get(path)).text();
const span = { from: "2025-08-01", to: "2027-08-01" };
const statements = await statementsOf((scope) => listPatternIncidents(scope, wren, span));
const [{ n: count } = { n: "0" }] = await db.owner("incidents").count({ n: "*" });
console.log(`\n${count} incidents in the school`);
await compare(`The patterns page of a student with ${ofStudent} incidents`, [
  { name: "the page, rendered, over HTTP", run: () => perSecond(times, text(`/students/${wren}/patterns`)) },
  {
    name: "its data request, over HTTP",
    run: () =>
      perSecond(times, text(`/students/${wren}/patterns.data?_routes=routes%2Fincidents%2Fpatterns`)),
  },
  {
    name: "its rows in words, read in the same process",
    run: () =>
      perSecond(times, () =>
        inScope(db.app, demo.person("noor"), wren, (scope) => listPatternIncidents(scope, wren, span)),
      ),
  },
  {
    name: "the raw SQL for the same rows",
    run: () =>
      perSecond(times, async () => {
        await client.query("begin");
        await client.query("select set_config('app.school', $1, true)", [demo.schoolId]);
        for (const { sql, bindings } of statements) await client.query(sql, bindings);
        await client.query("commit");
      }),
  },
]);
const schoolStatements = await statementsOf((scope) => listSchoolIncidents(scope, span));
await compare(
  "The patterns of the whole school",
  [
    { name: "the page, rendered, over HTTP", run: () => perSecond(2, text("/school/patterns")) },
    {
      name: "the raw SQL for the same rows",
      run: () =>
        perSecond(2, async () => {
          await client.query("begin");
          await client.query("select set_config('app.school', $1, true)", [demo.schoolId]);
          for (const { sql, bindings } of schoolStatements) await client.query(sql, bindings);
          await client.query("commit");
        }),
    },
  ],
  { rounds: 5 },
);

const browser = await chromium.launch({
  executablePath: browserPath,
  args: ["--no-sandbox", "--disable-gpu"],
});
const page = await browser.newPage({ baseURL: web.url, viewport: { width: 1280, height: 800 } });
await page.goto("/sign-in");
await page.getByLabel("E-mail").fill(emailOf(people.noor));
await page.getByLabel("Password").fill(demoPassword);
await page.getByRole("button", { name: "Sign in" }).click();
await page.getByRole("heading", { name: "Caseload" }).waitFor();
await page.goto(`/students/${wren}/patterns`);
await page.locator("[data-ready]").first().waitFor();
/** Milliseconds from choosing a behavior to the frame that shows its numbers; and to one that shows a new word. */
const answers = await page.evaluate<{ choices: number[]; words: number[] }>(`(async () => {
  const frame = () => new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
  const shown = async (watched, act) => {
    const changed = new Promise((resolve) => {
      const observer = new MutationObserver(() => {
        observer.disconnect();
        resolve();
      });
      observer.observe(watched, { characterData: true, childList: true, subtree: true });
    });
    const started = performance.now();
    act();
    await changed;
    await frame();
    return performance.now() - started;
  };
  const rate = document.querySelector("[aria-labelledby=how-often] p");
  const boxes = [...document.querySelectorAll("input[name=behavior]")];
  const [choices, words] = [[], []];
  const word = document.body.appendChild(document.createElement("p"));
  for (let round = 0; round < 24; round += 1) {
    choices.push(await shown(rate, () => boxes[round % boxes.length].click()));
    words.push(await shown(word, () => word.replaceChildren(String(round))));
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
  return { choices, words };
})()`);
const spread = (values: number[]) => {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => Math.round(sorted[Math.floor(share * (sorted.length - 1))] ?? 0);
  return `median ${at(0.5)} ms, 95% within ${at(0.95)} ms, slowest ${at(1)} ms`;
};
console.log(`\nAnother behavior chosen among ${ofStudent} incidents, until its numbers are on the screen`);
console.log(`  the page     ${spread(answers.choices)}`);
console.log(`  a new word   ${spread(answers.words)}`);
await browser.close();
await client.end();
await web.stop();
await db.close();
