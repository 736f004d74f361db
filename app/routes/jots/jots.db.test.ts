import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { v7 as newId } from "uuid";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { composeReport } from "#core/report/compose-report.ts";
import { linesOf } from "#core/report/document.ts";
import type { Queued } from "#core/sync/queued.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listJotCategories } from "#server/db/jot-categories.ts";
import { listJots } from "#server/db/jots.ts";
import { readRecordingPack } from "#server/db/recording-pack.ts";
import { readReportMaterial } from "#server/db/report-material.ts";
import { daysAgo } from "#tests/clock.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as submit from "../recording/submit-queued.ts";
import * as record from "../recording/record.tsx";
import * as categories from "../school/jots.tsx";
import * as goals from "../student/goals.tsx";
import * as beside from "../student/beside.tsx";
import * as jot from "./jot.tsx";
import * as picture from "./picture.ts";

type JotItem = Extract<Queued, { kind: "jot" }>;

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let gus: Caller;
const wren = () => ({ studentId: demo.student("Wren") });
const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), wren().studentId, work);

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, gus] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "gus"),
  ]);
});
afterAll(() => db.close());

const item = (change: Partial<JotItem> = {}): JotItem => ({
  ...{ format: 1, kind: "jot", id: newId(), ...wren(), clockAhead: 0 },
  observedAt: `${daysAgo(1)}T17:02:11.000Z`,
  ...{ began: { as: "moment" }, categoryId: null, note: "Packed the bag alone.", own: false },
  ...{ details: { levelId: null, link: null, pictures: [] }, teamOnly: false },
  ...change,
});
const keep = (who: Caller, sent: object) => who.sendJson(submit.action, sent);
const habits = async () => {
  const [first] = (await asNoor(listJotCategories)).filter(({ name }) => name === "Work habits");
  if (!first) throw new Error("the demo has no work habits");
  return first;
};
const jotIn = async (id: string) =>
  (await asNoor((scope) => listJots(scope, wren().studentId, { ids: [id] })))[0];

/** A photograph as a phone writes it: large, with its camera and its place in the file. */
const photograph = () =>
  sharp({ create: { width: 2400, height: 1200, channels: 3, background: "#88aacc" } })
    .jpeg()
    .withExif({
      IFD0: { Make: "Phone of a child" },
      IFD3: { GPSLatitudeRef: "N", GPSLatitude: "47/1 30/1 0/1" },
    })
    .toBuffer();

const withPicture = (caption = "The packed bag") => {
  const pictureId = newId();
  return {
    pictureId,
    sent: item({ details: { levelId: null, link: null, pictures: [{ pictureId, caption }] } }),
  };
};
const pictureItem = (jotId: string, id: string, file: Buffer) => ({
  ...{ format: 1, kind: "picture", id, jotId, ...wren(), clockAhead: 0 },
  ...{ observedAt: `${daysAgo(1)}T17:02:11.000Z`, data: file.toString("base64") },
});

describe("a jot", () => {
  it("is saved once however often it is sent; another one under its number is refused", async () => {
    const sent = item();
    expect(await keep(noor, sent)).toEqual({ outcome: "saved" });
    expect(await keep(noor, sent)).toEqual({ outcome: "already" });
    expect(await keep(noor, { ...sent, note: "Something else." })).toMatchObject({ outcome: "refused" });
    expect(await jotIn(sent.id)).toMatchObject({ note: "Packed the bag alone.", author: "N. Halloran" });
  });

  it("needs something to say, and a level of its own category", async () => {
    expect(await keep(noor, item({ note: " " }))).toMatchObject({
      outcome: "refused",
      why: "A jot needs words, a level, a picture or a link.",
    });
    const { levels } = await habits();
    const details = { levelId: levels[1]?.levelId ?? "", link: null, pictures: [] };
    const other = (await asNoor(listJotCategories)).find(({ name }) => name === "Family contact");
    expect(await keep(noor, item({ categoryId: other?.categoryId ?? "", details }))).toMatchObject({
      why: "“Family contact” has no such level. Choose one of its levels.",
    });
    const link = { url: "javascript:alert(1)", words: "" };
    expect(await keep(noor, item({ details: { levelId: null, link, pictures: [] } }))).toMatchObject({
      outcome: "refused",
    });
  });

  it("stands in the report in the words of its category and level, for the team only where it says so", async () => {
    const { categoryId, levels } = await habits();
    const details = {
      levelId: levels[2]?.levelId ?? "",
      link: { url: "https://example.org/work", words: "" },
      pictures: [],
    };
    const sent = item({ categoryId, details, teamOnly: true, own: true });
    await keep(noor, sent);
    const report = await asNoor(async (scope) => {
      const span = { from: null, to: scope.today };
      const calendar = await readCalendar(scope);
      const asked = { span, order: "time" as const, limit: null, calendar };
      const { material } = await readReportMaterial(scope, wren().studentId, asked);
      return {
        team: composeReport(material, { span }),
        family: composeReport(material, { span, audience: "family" }),
      };
    });
    expect(linesOf(report.team).find(({ entryId }) => entryId === sent.id)).toMatchObject({
      sentence: "Work habits, rated by the student: with a reminder.",
      note: "Packed the bag alone.",
      link: { url: "https://example.org/work", words: "https://example.org/work" },
      teamOnly: true,
    });
    expect(JSON.stringify(report.family)).not.toContain(sent.id);
    expect(linesOf(report.family).some(({ page }) => page.startsWith("jots/"))).toBe(true);
  });

  it("is corrected, removed and put back with its history, by its author or the lead", async () => {
    const sent = item();
    await keep(noor, sent);
    const params = { ...wren(), jotId: sent.id };
    const form = {
      ...{ intent: "correct", revision: "1", on: daysAgo(2), at: "10:15", period: "", note: "Packed it." },
      ...{ categoryId: "", levelId: "", linkTo: "", linkWords: "", pictures: "[]", reason: "a wrong day" },
    };
    await expect(teo.send(jot.action, form, params)).rejects.toMatchObject({ init: { status: 403 } });
    expect(await problemsOf(noor.send(jot.action, { ...form, on: "2099-01-01" }, params))).toHaveProperty([
      "problems",
      "on",
    ]);
    expect(await problemsOf(noor.send(jot.action, { ...form, note: "" }, params))).toHaveProperty([
      "problems",
      "note",
    ]);
    expect(await problemsOf(noor.send(jot.action, { ...form, linkTo: "example" }, params))).toMatchObject({
      problems: { linkTo: "Write the whole address, beginning with https://." },
    });
    await leadsTo(noor.send(jot.action, form, params));
    // Sent twice it is one correction; one that was begun before it is a conflict.
    await leadsTo(noor.send(jot.action, form, params));
    expect(await problemsOf(noor.send(jot.action, { ...form, note: "Other." }, params))).toHaveProperty([
      "problems",
      "form",
    ]);
    const remove = { intent: "remove", revision: "2", reason: "" };
    await leadsTo(noor.send(jot.action, remove, params));
    expect(await jotIn(sent.id)).toBeUndefined();
    await leadsTo(noor.send(jot.action, { ...remove, intent: "restore", revision: "3" }, params));
    const shown = await noor.load(jot.loader, params);
    expect(shown.jot).toMatchObject({ on: daysAgo(2), at: "10:15", note: "Packed it.", revision: 4 });
    expect(shown.history.map(({ act, note }) => [act, note])).toEqual([
      ["made", "Packed the bag alone."],
      ["corrected", "Packed it."],
      ["removed", "Packed it."],
      ["restored", "Packed it."],
    ]);
  });

  it("is taken back right after it was saved", async () => {
    const sent = item();
    await keep(noor, sent);
    const { began, categoryId, details, note, own, teamOnly, ...common } = sent;
    expect([began, categoryId, details, note, own, teamOnly].length).toBe(6);
    const back = { ...common, kind: "take back", id: newId(), of: "jot", thingId: sent.id };
    expect(await keep(noor, back)).toEqual({ outcome: "saved" });
    expect(await jotIn(sent.id)).toBeUndefined();
  });
});

describe("a picture", () => {
  const folders: string[] = [];
  afterEach(() => {
    delete process.env["PICTURES_FOLDER"];
    for (const folder of folders.splice(0)) rmSync(folder, { recursive: true, force: true });
  });
  const fetched = async (who: Caller, pictureId: string) =>
    Buffer.from(await (await who.load(picture.loader, { ...wren(), pictureId })).arrayBuffer());

  it("comes after its jot, is made smaller, and keeps nothing of the file but the picture", async () => {
    const { pictureId, sent } = withPicture();
    const file = await photograph();
    expect((await sharp(file).metadata()).exif?.toString("latin1")).toContain("Phone of a child");
    expect(await keep(noor, pictureItem(sent.id, pictureId, file))).toMatchObject({ outcome: "refused" });
    await keep(noor, sent);
    expect((await jotIn(sent.id))?.pictures).toEqual([{ pictureId, caption: "The packed bag", file: null }]);
    expect(await keep(noor, pictureItem(sent.id, pictureId, file))).toEqual({ outcome: "saved" });
    expect(await keep(noor, pictureItem(sent.id, pictureId, file))).toEqual({ outcome: "already" });
    expect((await jotIn(sent.id))?.pictures).toMatchObject([{ file: { width: 1600, height: 800 } }]);
    const stored = await fetched(noor, pictureId);
    const { format, width, exif, icc, xmp } = await sharp(stored).metadata();
    expect({ format, width, exif, icc, xmp }).toEqual({
      ...{ format: "jpeg", width: 1600, exif: undefined, icc: undefined, xmp: undefined },
    });
    expect(stored.toString("latin1")).not.toContain("Phone");
  });

  it("is turned upright by what its file says", async () => {
    const { pictureId, sent } = withPicture();
    await keep(noor, sent);
    const lying = await sharp({ create: { width: 60, height: 40, channels: 3, background: "#445566" } })
      .jpeg()
      .withMetadata({ orientation: 6 })
      .toBuffer();
    await keep(noor, pictureItem(sent.id, pictureId, lying));
    expect((await jotIn(sent.id))?.pictures).toMatchObject([{ file: { width: 40, height: 60 } }]);
  });

  it("is refused by what it is and not by its name: HEIC with what to do, anything else, a broken one", async () => {
    const { pictureId, sent } = withPicture();
    await keep(noor, sent);
    const heic = Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from("ftypheic"), Buffer.alloc(40)]);
    const answers = await Promise.all(
      [
        heic,
        Buffer.from("<svg xmlns='http://www.w3.org/2000/svg'/>"),
        (await photograph()).subarray(0, 900),
      ].map((file) => keep(noor, pictureItem(sent.id, pictureId, file))),
    );
    expect(answers).toMatchObject([
      { outcome: "refused", why: expect.stringMatching(/HEIC.*Most Compatible/) as string },
      { outcome: "refused", why: "This file is not a picture. Choose a JPEG, PNG or WebP file." },
      { outcome: "refused", why: expect.stringMatching(/cannot be read/) as string },
    ]);
  });

  it("is for those who may read the student, stored in the database or in a folder", async () => {
    const folder = mkdtempSync(join(tmpdir(), "pictures-"));
    folders.push(folder);
    process.env["PICTURES_FOLDER"] = folder;
    const { pictureId, sent } = withPicture();
    await keep(noor, sent);
    await keep(noor, pictureItem(sent.id, pictureId, await photograph()));
    const [row] = await db
      .owner<{ picture_id: string; content: Buffer | null; sha256: string }>("pictures")
      .where({ picture_id: pictureId });
    expect(row?.content).toBeNull();
    expect(
      readdirSync(folder, { recursive: true }).some((name) => String(name).includes(row?.sha256 ?? "-")),
    ).toBe(true);
    expect((await sharp(await fetched(teo, pictureId)).metadata()).width).toBe(1600);
    await expect(fetched(gus, pictureId)).rejects.toMatchObject({ init: { status: 404 } });
    const other = { studentId: demo.student("Priya"), pictureId };
    await expect(noor.load(picture.loader, other)).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("never changes: the application may add pictures, and neither change nor delete them", async () => {
    await asNoor(async ({ trx }) => {
      for (const [at, sql] of ["delete from pictures", "update pictures set sha256 = sha256"].entries()) {
        await trx.raw(`savepoint s${at}`);
        await expect(trx.raw(sql)).rejects.toThrow(/permission denied/);
        await trx.raw(`rollback to s${at}`);
      }
    });
  });
});

describe("the categories of a school", () => {
  const typed = (list: Awaited<ReturnType<typeof listJotCategories>>) =>
    Object.fromEntries([
      ["category.stood", list.map(({ categoryId }) => categoryId).join("\n")],
      ...list.flatMap(({ categoryId, name, levels }, place) => [
        [`category.${place}.categoryId`, categoryId],
        [`category.${place}.name`, name],
        ...levels.flatMap((level, at) => [
          [`levels-${categoryId}.${at}.levelId`, level.levelId],
          [`levels-${categoryId}.${at}.name`, level.name],
          [`levels-${categoryId}.${at}.definition`, level.meaning],
        ]),
      ]),
    ]) as Record<string, string>;

  it("are changed: a new name reaches earlier jots, a level that is taken out stays in them", async () => {
    const before = await asNoor(listJotCategories);
    const { categoryId, levels } = await habits();
    const [lowest, second, third] = levels;
    const rated = item({
      categoryId,
      details: { levelId: second?.levelId ?? "", link: null, pictures: [] },
    });
    const gone = item({ categoryId, details: { levelId: third?.levelId ?? "", link: null, pictures: [] } });
    await keep(noor, rated);
    await keep(noor, gone);
    const next = before.map((one) =>
      one.categoryId === categoryId
        ? {
            ...one,
            name: "Working habits",
            levels: one.levels
              .filter(({ levelId }) => levelId !== third?.levelId)
              .map((level) =>
                level.levelId === second?.levelId ? { ...level, name: "beside an adult" } : level,
              ),
          }
        : one,
    );
    expect(
      await problemsOf(
        noor.send(categories.action, { ...typed(next), "category.0.name": "Friends and play" }),
      ),
    ).toMatchObject({ problems: { form: "Two categories have the same name." } });
    expect(
      await problemsOf(
        noor.send(categories.action, { ...typed(next), [`levels-${categoryId}.0.name`]: "beside an adult" }),
      ),
    ).toHaveProperty(["problems", `levels-${categoryId}`]);
    await expect(teo.send(categories.action, typed(next))).rejects.toMatchObject({ init: { status: 403 } });
    await leadsTo(noor.send(categories.action, typed(next)));
    expect(await asNoor(listJotCategories)).toEqual(next);
    expect(await jotIn(rated.id)).toMatchObject({
      category: { name: "Working habits" },
      level: { name: "beside an adult", step: 2, of: 3 },
    });
    expect(await jotIn(gone.id)).toMatchObject({ level: { name: "with a reminder", step: null, of: 3 } });
    // A category that is no longer offered stays in what was written about it.
    await leadsTo(noor.send(categories.action, { ...typed(next), "category.0.retired": "yes" }));
    expect((await asNoor(listJotCategories)).map(({ name }) => name)).toEqual([
      "Friends and play",
      "Family contact",
    ]);
    expect(await jotIn(rated.id)).toMatchObject({ category: { name: "Working habits" } });
    expect(lowest?.name).toBe("not seen yet");
    await leadsTo(noor.send(categories.action, typed(before)));
  });

  it("come with the recording pack", async () => {
    const { jotCategories } = await asNoor(readRecordingPack);
    expect(jotCategories?.[0]).toMatchObject({ name: "Work habits" });
    expect(jotCategories?.[0]?.levels).toHaveLength(4);
  });
});

describe("a student's own rating of a rubric", () => {
  const paragraph = () => ({ studentId: demo.student("Tobias"), goalId: demo.goal("Tobias", "5") });
  const levels = { "level.0": "4", "level.1": "3", "level.2": "4", "level.3": "4" };

  it("stands beside the adults' and does not count", async () => {
    const page = async () => noor.load(goals.loader, paragraph());
    const before = await page();
    const entryId = newId();
    const sent = {
      ...{ entryId, ...levels, own: "yes", purpose: "probe", note: "My best one." },
      ...{
        "observedAt.date": daysAgo(3),
        "observedAt.time": "10:00",
        observedAt: `${daysAgo(3)}T10:00`,
        anyDay: "yes",
      },
    };
    expect(await leadsTo(noor.send(record.action, sent, paragraph()))).toMatch(/beside/);
    // Sent twice it is one.
    await leadsTo(noor.send(record.action, sent, paragraph()));
    const after = await page();
    expect(after.open?.latest).toEqual(before.open?.latest);
    expect(after.open?.raters?.own).toHaveLength((before.open?.raters?.own.length ?? 0) + 1);
    expect(after.open?.raters?.table?.columns[0]?.name).toBe("The student’s own rating");
    expect(after.open?.agreement).toHaveLength(before.open?.agreement.length ?? -1);
    const shown = await noor.load(beside.loader, { ...paragraph(), observationId: entryId });
    expect(shown).toMatchObject({ own: true, first: null, compared: null, note: "My best one." });
    await leadsTo(noor.send(beside.action, {}, { ...paragraph(), observationId: entryId }));
    expect((await page()).open?.raters).toEqual(before.open?.raters);
  });
});
