/**
 * What it costs to write down that a page was looked at: the same loaders with and without the first look of an hour. Reference: the loaders
 * where the hour's line is there already, which ask the database nothing more than before there was an access record.
 */
import { forgetNoted } from "#server/db/reads.ts";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { caller } from "#tests/route.ts";
import { compare } from "./rounds.ts";

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const noor = await caller(db.app, "noor");
const wren = { studentId: demo.student("Wren") };
/** The routes are typed by the application's own project, not by that of the benchmarks. */
const loaderOf = async (route: string) =>
  ((await import(`../app/routes/${route}.tsx`)) as { loader: (args: never) => unknown }).loader;
const student = await loaderOf("student/student");
const report = await loaderOf("report/report");
const caseload = await loaderOf("caseload/caseload");
const pages = [
  ["A student's page", () => noor.load(student, wren)],
  ["A report", () => noor.load(report, wren)],
  ["The caseload, of 14 students", () => noor.load(caseload)],
] as const;

/** So many pages a second, where only the pages are timed. */
async function rate(times: number, before: () => Promise<void>, page: () => unknown): Promise<number> {
  let spent = 0;
  for (let count = 0; count < times; count += 1) {
    await before();
    const start = performance.now();
    await page();
    spent += performance.now() - start;
  }
  return (times * 1000) / spent;
}
const asFirst = async () => {
  forgetNoted();
  await db.owner("audit").whereNotNull("hour").delete();
};

for (const [name, page] of pages)
  await compare(`${name}, one after the other`, [
    { name: "the first look of an hour", run: () => rate(20, asFirst, page) },
    { name: "looked at before in this hour", run: () => rate(20, () => Promise.resolve(), page) },
  ]);
await db.close();
