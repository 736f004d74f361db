import { execFile } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { pdfFacts, pdfText } from "#tests/files-of.ts";

const root = join(import.meta.dirname, "..");
let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let folder: string;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  folder = mkdtempSync(join(tmpdir(), "gentle-margin-export-"));
});
afterAll(async () => {
  await db.close();
  rmSync(folder, { recursive: true, force: true });
});

/** Runs the command as `npm run export` does once the database is there. */
const run = (...args: string[]) =>
  new Promise<{ code: number; out: string; err: string }>((resolve) => {
    execFile(
      process.execPath,
      ["--import", "tsx", "cli/export.ts", ...args],
      {
        cwd: root,
        env: {
          ...process.env,
          APP_DATABASE_URL: db.appUrl,
          TSX_TSCONFIG_PATH: join(root, "app/tsconfig.json"),
          LOG_LEVEL: "silent",
        },
      },
      (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
const report = (format: string, file: string, ...more: string[]) =>
  run(
    ...["report", "--student", "W.A.", "--format", format, "--out", join(folder, file)],
    ...(more.includes("--audience") ? [] : ["--audience", "family"]),
    ...more,
  );

describe("npm run export", { timeout: 120_000 }, () => {
  it("lists every student by id and alias, and no name", async () => {
    const { code, out } = await run("students");
    expect(code).toBe(0);
    const listed = out
      .trim()
      .split("\n")
      .map((line) => JSON.parse(line) as { studentId: string; alias: string });
    expect(listed).toContainEqual({ studentId: demo.student("Wren"), alias: "W.A." });
    expect(listed.every((one) => Object.keys(one).length === 2)).toBe(true);
    expect(out).not.toMatch(/Wren|Abara/);
  });

  it("writes the report of a span in a language, for its owner alone, and notes it", async () => {
    const asked = ["--language", "es", "--span", "Trimester 1", "--for", "Rosa Abara"];
    expect(await report("pdf", "w.pdf", ...asked)).toEqual({ code: 0, out: "", err: "" });
    const file = join(folder, "w.pdf");
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect((await pdfFacts(file))["Title"]).toContain("Informe continuo");
    expect(await pdfText(file)).toContain("Metas");
    expect(await db.owner("disclosures").where({ recipient: "Rosa Abara" })).toMatchObject([
      {
        format: "pdf",
        audience: "family",
        language: "es",
        person_id: null,
        student_id: demo.student("Wren"),
      },
    ]);
    expect(await db.owner("audit").where({ thing: "disclosure" })).toMatchObject([
      { actor_kind: "job", job: "export", act: "made" },
    ]);
  });

  it("gives the file of an edition, the same each time", async () => {
    const edition = await db
      .owner("editions")
      .where({ student_id: demo.student("Wren"), audience: "team" })
      .orderBy("number")
      .first("number");
    const asked = ["--audience", "team", "--edition", String(edition?.number), "--keep-names"];
    for (const file of ["a.docx", "b.docx"])
      expect(await report("docx", file, ...asked)).toEqual({ code: 0, out: "", err: "" });
    expect(readFileSync(join(folder, "a.docx")).equals(readFileSync(join(folder, "b.docx")))).toBe(true);
  });

  it("says what is wrong, with exit code 2, and writes nothing", async () => {
    const wrong: [RegExp, Promise<{ code: number; err: string }>][] = [
      [/usage: npm run -s export/, run("reports")],
      [
        /no student is called X\.X\./,
        run("report", "--student", "X.X.", "--audience", "team", "--format", "csv", "--out", "x"),
      ],
      [/--format is one of pdf, docx/, report("exe", "x")],
      [/--audience is one of team/, report("csv", "x", "--audience", "everybody")],
      [/--span is one of "This school year"/, report("csv", "x", "--span", "Winter")],
      [/there is no edition 99/, report("csv", "x", "--edition", "99")],
      [/a full record needs --why/, report("record", "x")],
    ];
    for (const [words, answer] of wrong) {
      const { code, err } = await answer;
      expect([code, err]).toEqual([2, expect.stringMatching(words)]);
    }
    expect(existsSync(join(folder, "x"))).toBe(false);
  });
});
