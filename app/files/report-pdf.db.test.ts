import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Audience } from "#core/report/audience.ts";
import { students } from "#demo/scenario.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { openPrinter, type Printer } from "#server/exports/printer.ts";
import { readStyles } from "#server/exports/styles.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { pdfFacts, pdfFonts, pdfTags, pdfText } from "#tests/files-of.ts";
import { type FiledReport, reportHtml } from "./report-html.tsx";
import { makeFile } from "./make-file.ts";
import { fileFormats } from "#core/report/file-formats.ts";

const assets = join(import.meta.dirname, "../../build/client/assets");
let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let printer: Printer;
let folder: string;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  printer = openPrinter();
  folder = mkdtempSync(join(tmpdir(), "gentle-margin-pdf-"));
});
afterAll(async () => {
  await printer.stop();
  await db.close();
  if (!process.env["KEEP"]) rmSync(folder, { recursive: true, force: true });
});

const reportOf = (given: string, audience: Audience) =>
  inScope(db.app, demo.person("noor"), demo.student(given), async (scope): Promise<FiledReport> => {
    const { report } = await readReportFor(scope, demo.student(given), {
      ...{ audience, order: "time", limit: null, span: { from: null, to: scope.today } },
      calendar: await readCalendar(scope),
      withData: true,
    });
    return { studentId: demo.student(given), document: report, edition: null };
  });

async function print(reports: FiledReport[], name: string, paper: "a4" | "letter" = "letter") {
  writeFileSync(
    join(folder, "page.html"),
    reportHtml(reports, name, { styles: await readStyles(assets), paper }),
  );
  const out = join(folder, `${name}.pdf`);
  await printer.print({ folder, out });
  return out;
}

describe("the PDF of a report", () => {
  it("is tagged", async () => {
    console.log(folder);
    const one = await reportOf("Wren", "team");
    let t = performance.now();
    const out = await print([one], "wren");
    console.log(performance.now() - t);
    t = performance.now();
    await print([one], "wren2");
    console.log(performance.now() - t);
    console.log(await pdfFacts(out), await pdfFonts(out));
    expect(students.length).toBeGreaterThan(5);
    for (const format of fileFormats) {
      const t2 = performance.now();
      const made = await makeFile({ ...one, initials: "W.A." }, format, {
        printer,
        assets,
        paper: "letter",
        writePictures: () => Promise.resolve(),
      });
      writeFileSync(join(folder, made.name), made.content);
      console.log(made.name, made.content.length, performance.now() - t2);
    }
    void pdfTags;
    void pdfText;
    void readFileSync;
  }, 120_000);
});
