import { execFile } from "node:child_process";
import { fileURLToPath } from "node:url";
import { parse } from "csv-parse/sync";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyDetails } from "#core/incidents/blank.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { choice, incidentItem, keep, recordedItem } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

/**
 * What strangers tried on the running application, in a bounded form. Who may see and change what is in `routes.db.test.ts` and
 * `access/table.test.ts`, forged origins in `web/guard.test.ts`, bad input in `fuzz.db.test.ts`.
 */
let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
let noor: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
  noor = await signedIn(web.url, "noor");
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const scripts = [
  "<script>alert(1)</script>",
  '"><img src=x onerror=alert(1)>',
  "</script><svg onload=alert(1)>",
  "javascript:alert(1)",
  "\u2028</title><script>alert(2)</script>",
];
const formulas = ["=HYPERLINK(1)", "+1+1", "-2+3", "@SUM(1)", "\t=1", "\r=1"];

describe("what somebody typed", () => {
  it("is shown and never run, on every page and in what pages load, wherever it was typed", async () => {
    const wren = demo.student("Wren");
    const goal = demo.goal("Wren", "2b");
    for (const note of scripts) {
      expect(await keep(noor, recordedItem(demo, { note, setting: note.slice(0, 100) }))).toEqual({
        outcome: "saved",
      });
      expect(
        await keep(
          noor,
          incidentItem(demo, {
            note,
            chosen: { behavior: [choice(note.slice(0, 100))], setting: [choice(`${note.slice(0, 90)}.`)] },
            details: {
              ...emptyDetails,
              harm: {
                injury: true,
                restraint: false,
                seclusion: false,
                facts: [{ asked: note, said: note }],
              },
            },
          }),
        ),
      ).toEqual({ outcome: "saved" });
    }
    const [bad = ""] = scripts;
    await db
      .owner("goals")
      .where({ goal_id: goal })
      .update({ title: bad, strategy: scripts.join(" ") });
    await db.owner("students").where({ student_id: wren }).update({ alias: '"><b onclick=x>' });
    await db.owner("groups").update({ name: bad });
    await db.owner("schools").update({ name: bad });
    const [entry] = await db.owner("entries").where({ goal_id: goal, note: bad }).select("entry_id");
    const pages = [
      ...[
        "/caseload",
        "/today",
        "/record",
        "/school/calendar",
        "/school/groups",
        "/school/lists",
        "/devices",
      ],
      ...["", "/report", "/incidents", "/patterns", "/choices", "/goals/order"].map(
        (part) => `/students/${wren}${part}`,
      ),
      ...[`/students/${wren}/goals/${goal}`, `/students/${wren}/goals/${goal}/edit`],
      `/students/${wren}/entries/${entry?.entry_id}`,
    ];
    for (const page of pages)
      for (const path of [page, page.replace(/$/, ".data")]) {
        const answer = await noor.get(path);
        const text = await answer.text();
        expect([path, answer.status < 500]).toEqual([path, true]);
        if (answer.headers.get("Content-Type")?.includes("html")) {
          expect([path, /<script>alert|<svg onload|<img src=x|<b onclick/.exec(text)?.[0]]).toEqual([
            path,
            undefined,
          ]);
          expect([path, /(?:href|src|action)="\s*javascript:/i.test(text)]).toEqual([path, false]);
          expect(answer.headers.get("Content-Security-Policy")).toContain("script-src");
        } else expect([path, answer.headers.get("X-Content-Type-Options")]).toEqual([path, "nosniff"]);
      }
  });

  it("is no formula in any file that is handed out", async () => {
    const wren = demo.student("Wren");
    for (const [at, note] of formulas.entries()) {
      await keep(noor, recordedItem(demo, { note, setting: `${note.trim()} ${at}` }));
      await keep(noor, incidentItem(demo, { note, chosen: { behavior: [choice(`${note.trim()} ${at}`)] } }));
    }
    const files = [
      `/students/${wren}/goals/${demo.goal("Wren", "2b")}/points.csv`,
      ...["behavior", "setting", "pairs", "chains", "time"].map(
        (table) => `/students/${wren}/patterns.csv?table=${table}`,
      ),
      ...["behavior", "time", "week"].map((table) => `/school/patterns.csv?table=${table}`),
    ];
    let cells = 0;
    for (const file of files) {
      const answer = await noor.get(file);
      if (answer.status === 404) continue;
      const rows: string[][] = parse((await answer.text()).replace("\uFEFF", ""), {
        relax_column_count: true,
      });
      for (const cell of rows.flat()) {
        cells += 1;
        // A number may begin with its sign; anything else would be reckoned by the program that opens the file.
        const isFormula = /^[=+\-@\t\r]/.test(cell) && !/^[+-]?\d+(\.\d+)?$/.test(cell);
        expect([file, cell, isFormula]).toEqual([file, cell, false]);
      }
    }
    expect(cells).toBeGreaterThan(200);
  });
});

/** What a program prints; a pattern that takes a text's length to a power would never end, and is ended. */
const printed = (source: string): Promise<string> =>
  new Promise((resolve) => {
    execFile(
      process.execPath,
      ["--import", "tsx", "--input-type=module", "--eval", source],
      { timeout: 25_000, cwd: fileURLToPath(new URL("..", import.meta.url)) },
      (error, stdout) => resolve(error ? `${error.killed ? "did not end" : error.message}` : stdout.trim()),
    );
  });

it("no text that fits into a field keeps a reader busy: repeated beginnings, digits, blanks, brackets and words", async () => {
  const root = new URL("..", import.meta.url).href;
  const said = await printed(`
      const at = (path) => import(${JSON.stringify(root)} + path);
      const { readGoal } = await at("core/goal-wording/read-goal.ts");
      const { propose } = await at("core/goal-wording/propose.ts");
      const { withBlanks } = await at("core/goal-wording/with-blanks.ts");
      const { readLengthOfTime } = await at("core/words/read-time.ts");
      const { deviceName } = await at("core/words/device-name.ts");
      const { matchName } = await at("server/imports/match-name.ts");
      const { readCsv } = await at("core/files/csv.ts");
      const { cleanText } = await at("server/web/clean.ts");
      const { ownPath } = await at("app/routes/sign-in/own-path.ts");
      const parts = ["1", " ", "a", "1 of ", "80% ", "in 4 of 5 ", "by May 1 ", "(", "((", ") ", ", and ", "\\t", "0.", "1:", "at least ",
        "with no more than ", "consecutive ", "three out of four ", "-", "/", "\\\\", '"', "ä", "\\u0301", "{student} ", "http://"];
      let readings = 0;
      for (const part of parts)
        for (const end of ["", "!", "x", "1"]) {
          const text = part.repeat(Math.ceil(2000 / part.length)).slice(0, 1999) + end;
          for (const read of [readGoal, propose, (one) => withBlanks(one, ["Wren", "Abara"]), readLengthOfTime, deviceName, cleanText, ownPath,
            (one) => matchName(one, [{ id: "1", given: "Wren", family: "Abara", preferred: null, email: null }], "student"),
            (one) => readCsv(one, ["date"])]) {
            try { read(text); } catch {}
            readings += 1;
          }
        }
      console.log("read " + readings);
  `);
  expect(said).toBe("read 936");
});

it("one who is signed in reaches nothing of a student they have no part in by naming its things under another", async () => {
  const teo = await signedIn(web.url, "gus");
  const [entry] = await db
    .owner("entries")
    .where({ student_id: demo.student("Wren") })
    .limit(1);
  const [incident] = await db
    .owner("incidents")
    .where({ student_id: demo.student("Wren") })
    .limit(1);
  const mine = await db
    .owner("circle")
    .where({ person_id: demo.person("gus").personId })
    .first<{ student_id: string }>("student_id");
  const own = mine?.student_id ?? newId();
  for (const path of [
    `/students/${own}/entries/${(entry as { entry_id: string }).entry_id}`,
    `/students/${own}/incidents/${(incident as { incident_id: string }).incident_id}`,
    `/students/${own}/goals/${demo.goal("Wren", "2b")}`,
    `/students/${own}/goals/${demo.goal("Wren", "2b")}/points.csv`,
    `/students/${demo.student("Wren")}/report`,
  ]) {
    expect([path, (await teo.get(path)).status]).toEqual([path, 404]);
    expect([path, (await teo.get(`${path}.data`)).status]).toEqual([path, 404]);
  }
});
