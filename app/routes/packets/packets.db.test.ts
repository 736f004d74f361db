import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import JSZip from "jszip";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { forgetPackets } from "#server/db/packets.ts";
import { openPacketMaker } from "#server/exports/packet-maker.ts";
import { NotPrinted, openPrinter, type Printer } from "#server/exports/printer.ts";
import { keepJobsRunning } from "#server/jobs/run.ts";
import { makePacket } from "#app/files/make-packet.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { pdfFacts, pdfTags, pdfText } from "#tests/files-of.ts";
import { recordedItem } from "#tests/recorded.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as keep from "../recording/submit-queued.ts";
import * as file from "./packet-file.ts";
import * as page from "./packet.tsx";
import * as packets from "./packets.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let printer: Printer;
let folder: string;
const assets = join(import.meta.dirname, "../../../build/client/assets");
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  printer = openPrinter();
  folder = await mkdtemp(join(tmpdir(), "gentle-margin-packets-"));
  noor = await caller(db.app, "noor");
});
afterAll(async () => {
  await printer.stop();
  await rm(folder, { recursive: true, force: true });
  await db.close();
});

type Given = Parameters<DemoIds["student"]>[0];
const ticked = (students: readonly Given[]) =>
  Object.fromEntries(students.map((given) => [`student.${demo.student(given)}`, "yes"]));
/** Asks for a packet of these students. Answers with its id. */
async function ask(students: readonly Given[], search = "", more: Record<string, string> = {}) {
  const form = { packetId: newId(), recipient: "families", ...ticked(students), ...more };
  const to = (await leadsTo(noor.send(packets.action, form, {}, search))) ?? "";
  return to.replace("/packets/", "");
}
/** Works at a packet in this process, as its own process does. */
const work = (packetId: string, more: Partial<Parameters<typeof makePacket>[1]> = {}) =>
  makePacket(
    { schoolId: demo.schoolId, packetId },
    { database: db.app, printer, assets, stopping: new AbortController().signal, ...more },
  );
const look = (packetId: string, who = noor) => who.load(page.loader, { packetId });
const bytesOf = async (packetId: string, who = noor) =>
  Buffer.from(await (await who.load(file.loader, { packetId })).arrayBuffer());
const rowOf = (packetId: string) => db.owner("packets").where({ packet_id: packetId }).first();
const reportsOf = (packetId: string) =>
  db.owner("packet_reports").where({ packet_id: packetId }).orderBy("place");
async function save(content: Buffer) {
  const path = join(folder, `${newId()}.pdf`);
  await writeFile(path, content);
  return path;
}
const textOf = async (packetId: string) => pdfText(await save(await bytesOf(packetId)));
const pagesOf = async (packetId: string) => (await textOf(packetId)).split("").slice(0, -1);
const period = async () =>
  `period-${(await db.owner("reporting_periods").orderBy("from_on").first())?.from_on ?? ""}`;

describe("before a packet is made", () => {
  it("it is said who is in it, and who is not ready and why, with the way to what is missing", async () => {
    const { students, chosen } = await noor.load(packets.loader, {}, `?span=${await period()}`);
    expect(chosen).toMatchObject({ of: "reports", audience: "family", form: "one", whose: "" });
    const of = (given: Given) => students.find(({ studentId }) => studentId === demo.student(given));
    expect(of("Otis")).toMatchObject({ state: "ready", why: "3 goals, all statements ready", to: null });
    expect(of("Anselm")).toMatchObject({
      state: "ask",
      why: "1 of 3 goals has no progress statement that is ready",
      to: {
        words: "Write it",
        path: expect.stringMatching(/^\/progress-reports\/.*Write it|^\/progress-reports\//),
      },
    });
  });

  it("students whom another person leads, and those without an edition, cannot be in it", async () => {
    const teo = await caller(db.app, "teo");
    const { students } = await teo.load(packets.loader);
    expect(students.length).toBeGreaterThan(3);
    expect(new Set(students.map(({ state, why }) => `${state}: ${why}`))).toEqual(
      new Set(["out: Another person is the case manager"]),
    );
    const answer = teo.send(packets.action, { packetId: newId(), recipient: "x", ...ticked(["Wren"]) });
    expect((await problemsOf(answer)).problems).toEqual({ form: "Tick at least one student." });
    const editions = await noor.load(packets.loader, {}, "?of=editions");
    const states = editions.students.map(({ state, why }) => `${state}: ${why.split(" of ")[0] ?? ""}`);
    expect(states).toContain("ready: Edition 2");
    await db
      .owner("editions")
      .where({ student_id: demo.student("Yara"), audience: "family" })
      .update({ audience: "file" });
    const yara = (await noor.load(packets.loader, {}, "?of=editions")).students.find(
      ({ studentId }) => studentId === demo.student("Yara"),
    );
    expect(yara).toMatchObject({
      state: "out",
      to: { path: `/students/${demo.student("Yara")}/editions/new?for=family` },
    });
  });

  it("its students are those of a group, of a period of the day, or those a colleague works with, in the order of groups", async () => {
    const load = async (search: string) => noor.load(packets.loader, {}, search);
    const { options } = await load("");
    const kinds = options.whose.map(([value]) => value.split(" ")[0]);
    expect(kinds).toEqual(expect.arrayContaining(["", "group", "period", "with"]));
    for (const [value] of options.whose) {
      const { students, chosen } = await load(`?${new URLSearchParams({ whose: value }).toString()}`);
      expect(chosen.whose).toBe(value);
      expect(students.length).toBeGreaterThan(0);
      expect(new Set(students.map(({ studentId }) => studentId)).size).toBe(students.length);
    }
    const inOrder = await load("?order=groups");
    expect(inOrder.students.map(({ name }) => name)).not.toEqual(
      (await load("")).students.map(({ name }) => name),
    );
    expect(inOrder.students).toHaveLength((await load("")).students.length);
  });

  it("it asks who receives it and for at least one student, and says what is wrong beside the field", async () => {
    const refused = async (form: Record<string, string>, search = "") =>
      (await problemsOf(noor.send(packets.action, { packetId: newId(), ...form }, {}, search))).problems;
    expect(await refused({ recipient: " ", ...ticked(["Otis"]) })).toEqual({
      recipient: "Say who receives it.",
    });
    expect(await refused({ recipient: "families" })).toEqual({ form: "Tick at least one student." });
  });
});

describe("a packet", { timeout: 600_000 }, () => {
  it("is one PDF in the order that was shown, each student on a fresh page with pages of their own, and each is noted as leaving", async () => {
    const packetId = await ask(["Otis", "Anselm", "Yara"], `?span=${await period()}`, {
      reason: "conferences",
    });
    expect((await look(packetId)).state).toBe("reading");
    await work(packetId);
    const { state, reports, canFetch, title } = await look(packetId);
    expect({ state, canFetch, title }).toEqual({
      ...{ state: "done", canFetch: true, title: "Progress reports, Trimester 1" },
    });
    expect(reports.map(({ name, why }) => [name, why])).toEqual([
      ["Anselm Birke", null],
      ["Otis Fairweather", null],
      ["Yara Dimitrov", null],
    ]);
    const path = await save(await bytesOf(packetId));
    const pages = await pagesOf(packetId);
    const firstOf = (name: string) =>
      pages.findIndex((text) => text.includes(name) && text.includes("Running report"));
    const [anselm, otis, yara] = ["Anselm Birke", "Otis Fairweather", "Yara Dimitrov"].map(firstOf);
    expect([anselm, (otis ?? 0) > 0, (yara ?? 0) > (otis ?? 0)]).toEqual([0, true, true]);
    const number = (at: number | undefined) => pages[at ?? -1]?.trim().split("\n").at(-1)?.trim();
    expect([number(anselm), number(1), number(otis), number(yara)]).toEqual(["1", "2", "1", "1"]);
    // A head of its own on every page, and no page with two of them.
    for (const text of pages)
      expect(["A.B.", "O.F.", "Y.D."].filter((head) => text.trimStart().startsWith(head))).toHaveLength(1);
    expect(await pdfTags(path)).toContain("H1");
    expect(await pdfFacts(path)).toMatchObject({ Tagged: "yes", Title: "Progress reports, Trimester 1" });
    const noted = await db.owner("disclosures").where({ packet_id: packetId });
    expect(noted).toHaveLength(3);
    for (const row of noted)
      expect(row).toMatchObject({
        ...{ format: "pdf", audience: "family", recipient: "families", reason: "conferences", content: null },
        person_id: demo.person("noor").personId,
      });
    const audit = await db.owner("audit").where({ thing: "packet", thing_id: packetId }).orderBy("audit_id");
    expect(audit.map(({ act, actor_kind }) => `${actor_kind} ${act}`)).toEqual(["person asked", "job made"]);
  });

  it("begins each student on a right-hand page where that was chosen", async () => {
    // Among so many reports some have an odd number of pages, whatever the fonts of the machine.
    const students: Given[] = ["Otis", "Anselm", "Yara", "Wren", "Priya", "Malik", "Caspian", "Juniper"];
    const packetId = await ask(students, "?odd=yes&for=team");
    await work(packetId);
    const pages = await pagesOf(packetId);
    const first = pages.flatMap((text, at) => (text.includes("Running report") ? at : []));
    expect(first).toHaveLength(students.length);
    expect(first.filter((at) => at % 2 !== 0)).toEqual([]);
    // A page that fills up is empty, without a head.
    const empty = pages.filter((text) => text.trim() === "").length;
    expect(empty).toBeGreaterThan(0);
    const plain = await ask(students, "?odd=no&for=team");
    await work(plain);
    expect(await pagesOf(plain)).toHaveLength(pages.length - empty);
  });

  it("is a ZIP with a file for each, the files of editions as they were made the first time", async () => {
    const packetId = await ask(["Otis", "Wren"], "?of=editions&form=pdfs");
    await work(packetId);
    const zip = await JSZip.loadAsync(await bytesOf(packetId));
    const names = Object.keys(zip.files).filter((name) => !name.endsWith("/"));
    expect(names).toEqual([
      expect.stringMatching(/^Editions-for-the-family\/OF-[0-9a-f]{4}-edition-\d-\d{4}-\d\d-\d\d\.pdf$/),
      expect.stringMatching(/^Editions-for-the-family\/WA-[0-9a-f]{4}-edition-\d-\d{4}-\d\d-\d\d\.pdf$/),
    ]);
    const again = await ask(["Otis", "Wren"], "?of=editions&form=pdfs");
    expect(again).not.toBe(packetId);
    await work(again);
    const second = await JSZip.loadAsync(await bytesOf(again));
    for (const name of names)
      expect(
        (await second.file(name)?.async("nodebuffer"))?.equals(
          (await zip.file(name)?.async("nodebuffer")) ?? Buffer.of(),
        ),
      ).toBe(true);
    const words = await ask(["Otis"], "?form=words");
    await work(words);
    expect(
      Object.keys((await JSZip.loadAsync(await bytesOf(words))).files).some((name) => name.endsWith(".docx")),
    ).toBe(true);
  });

  it("asked for twice is one, by the form's id and while the same one is being made", async () => {
    const form = { packetId: newId(), recipient: "families", ...ticked(["Otis"]) };
    const send = (more = {}) => leadsTo(noor.send(packets.action, { ...form, ...more }));
    expect(await send()).toBe(`/packets/${form.packetId}`);
    expect(await send()).toBe(`/packets/${form.packetId}`);
    expect(await send({ packetId: newId() })).toBe(`/packets/${form.packetId}`);
    expect(await send({ packetId: newId(), recipient: "the office" })).not.toBe(`/packets/${form.packetId}`);
    await Promise.all([work(form.packetId), work(form.packetId)]);
    expect(await db.owner("disclosures").where({ packet_id: form.packetId })).toHaveLength(1);
  });

  it("waits for its person where a report may name another student: kept, left out, or corrected and read again", async () => {
    const jot = await db
      .owner("jots")
      .where({ student_id: demo.student("Otis") })
      .orderBy("saved_at", "desc")
      .first();
    const { note } = jot ?? { note: null };
    const write = (words: string | null) =>
      db
        .owner("jots")
        .where({ jot_id: jot?.jot_id ?? "" })
        .update({ note: words });
    await write("Shared the glue with Anselm Birke.");
    const made = async (then: Record<string, string>) => {
      const packetId = await ask(["Otis", "Anselm"], "?span=all");
      await work(packetId);
      const { state, toLookAt } = await look(packetId);
      expect(state).toBe("names");
      expect(toLookAt.map(({ studentId }) => studentId)).toEqual([demo.student("Otis")]);
      expect(toLookAt[0]?.names[0]?.text).toContain("Shared the glue with Anselm Birke.");
      await noor.send(page.action, then, { packetId });
      await work(packetId);
      return look(packetId);
    };
    const whys = ({ state, reports }: Awaited<ReturnType<typeof look>>) => [
      state,
      ...reports.map(({ why }) => why),
    ];
    expect(whys(await made({ intent: "go on" }))).toEqual(["done", null, "left out because of a name in it"]);
    expect(whys(await made({ intent: "go on", [`kept.${demo.student("Otis")}`]: "yes" }))).toEqual([
      "done",
      null,
      null,
    ]);
    const corrected = await made({ intent: "read again" });
    expect(corrected.state).toBe("names");
    await write(note);
    await noor.send(page.action, { intent: "read again" }, { packetId: corrected.packetId });
    await work(corrected.packetId);
    expect(whys(await look(corrected.packetId))).toEqual(["done", null, null]);
  });

  it("names the one report that cannot be drawn, or cannot be printed, and is made of the others", async () => {
    const undrawable = await ask(["Otis", "Anselm", "Yara"]);
    // Stops where it would print: all are read then.
    const stopped = { ...printer, print: () => Promise.reject(new Error("ended")) };
    await expect(work(undrawable, { printer: stopped })).rejects.toThrow("ended");
    await db
      .owner("packet_reports")
      .where({ packet_id: undrawable, student_id: demo.student("Otis") })
      .update({ content: JSON.stringify({ format: 1, document: { sections: [{ blocks: 5 }] } }) });
    await work(undrawable);
    const whys = async (packetId: string) => {
      const { state, reports } = await look(packetId);
      return [state, ...reports.map(({ why }) => why?.slice(0, 29) ?? null)];
    };
    const one = ["done", null, "its report could not be made.", null];
    expect(await whys(undrawable)).toEqual(one);
    const text = await textOf(undrawable);
    expect([
      text.includes("Anselm Birke"),
      text.includes("Otis Fairweather"),
      text.includes("Yara Dimitrov"),
    ]).toEqual([true, false, true]);
    expect(await db.owner("disclosures").where({ packet_id: undrawable })).toHaveLength(2);

    const unprintable = await ask(["Otis", "Anselm", "Yara"], "?odd=yes");
    const otis =
      (await reportsOf(unprintable)).find(({ student_id }) => student_id === demo.student("Otis"))?.place ??
      0;
    const picky: Printer = {
      ...printer,
      print: (job) =>
        /all$|alone-(\d+)$/.exec(job.folder)?.[1] === String(otis) || job.folder.endsWith("all")
          ? Promise.reject(new NotPrinted("too-long"))
          : printer.print(job),
    };
    await work(unprintable, { printer: picky });
    expect(await whys(unprintable)).toEqual(one);
  });

  it("is gone on with after its process ended: what was read is not read again", async () => {
    const packetId = await ask(["Otis", "Anselm"]);
    const stopping = new AbortController();
    const slow: Printer = {
      ...printer,
      print: () => {
        stopping.abort(new Error("stopping"));
        return Promise.reject(new NotPrinted("failed"));
      },
      stop: () => Promise.resolve(),
    };
    await expect(work(packetId, { printer: slow, stopping: stopping.signal })).rejects.toThrow("stopping");
    expect(await rowOf(packetId)).toMatchObject({ state: "making", worker: null });
    const before = await reportsOf(packetId);
    expect(before.map(({ state }) => state)).toEqual(["read", "read"]);
    await db
      .owner("goals")
      .where({ goal_id: demo.goal("Otis", "2") })
      .update({ title: "Another title" });
    await work(packetId);
    expect(await textOf(packetId)).not.toContain("Another title");
  });

  it("is not taken by a second process while the first is heard of, and is once it is silent", async () => {
    const packetId = await ask(["Otis"], "?for=team");
    await db.owner("packets").where({ packet_id: packetId }).update({ worker: newId() });
    await work(packetId);
    expect((await look(packetId)).state).toBe("reading");
    await db
      .owner("packets")
      .where({ packet_id: packetId })
      .update({ heard_at: db.owner.raw("now() - interval '2 minutes'") });
    await work(packetId);
    expect((await look(packetId)).state).toBe("done");
  });

  it("is given up after six tries without an end, and says so", async () => {
    const packetId = await ask(["Otis"], "?for=file");
    await db.owner("packets").where({ packet_id: packetId }).update({ tries: 6 });
    await work(packetId);
    expect((await look(packetId)).state).toBe("failed");
  });

  it("is cancelled: nothing is left of it and nothing is noted", async () => {
    const packetId = await ask(["Otis", "Anselm"], "?for=team&odd=yes");
    const cancelling: Printer = {
      ...printer,
      print: async (job) => {
        await printer.print(job);
        await noor.send(page.action, { intent: "cancel" }, { packetId });
      },
    };
    await work(packetId, { printer: cancelling });
    expect((await look(packetId)).state).toBe("cancelled");
    expect(await db.owner("packet_pieces").where({ packet_id: packetId })).toEqual([]);
    expect((await reportsOf(packetId)).map(({ content }) => content)).toEqual([null, null]);
    expect(await db.owner("disclosures").where({ packet_id: packetId })).toEqual([]);
    await expect(bytesOf(packetId)).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("is its person's alone, while they lead every student in it, and for a day", async () => {
    const packetId = await ask(["Otis", "Anselm"]);
    await work(packetId);
    const teo = await caller(db.app, "teo");
    await expect(look(packetId, teo)).rejects.toMatchObject({ init: { status: 404 } });
    await expect(bytesOf(packetId, teo)).rejects.toMatchObject({ init: { status: 404 } });
    const part = { student_id: demo.student("Otis"), person_id: demo.person("noor").personId };
    await db.owner("circle").where(part).update({ part: "record" });
    expect(await look(packetId)).toMatchObject({ canFetch: false, isFresh: true });
    await expect(bytesOf(packetId)).rejects.toMatchObject({ init: { status: 404 } });
    const asked = await ask(["Anselm"]);
    await db.owner("packet_reports").insert({
      ...{ school_id: demo.schoolId, packet_id: asked, student_id: demo.student("Otis"), place: 2 },
    });
    await work(asked);
    expect((await look(asked)).reports.map(({ why }) => why)).toEqual([
      null,
      "you are no longer the case manager",
    ]);
    await db.owner("circle").where(part).update({ part: "lead" });
    expect((await bytesOf(packetId)).length).toBeGreaterThan(10_000);
    await db
      .owner("packets")
      .where({ packet_id: packetId })
      .update({ made_at: db.owner.raw("made_at - interval '25 hours'") });
    await forgetPackets(db.app);
    expect(await db.owner("packet_pieces").where({ packet_id: packetId })).toEqual([]);
    expect(await look(packetId)).toMatchObject({ canFetch: false, isFresh: false, state: "done" });
    await expect(bytesOf(packetId)).rejects.toMatchObject({ init: { status: 404 } });
    expect(await db.owner("disclosures").where({ packet_id: packetId })).toHaveLength(2);
  });
});

describe("a class assessed in one sitting", { timeout: 600_000 }, () => {
  it("gives each student a page: the comment first, then each criterion with the wording of the level reached", async () => {
    const [first] = await db.owner("goal_measures").whereRaw("measure ->> 'kind' = 'rubric'").limit(1);
    const goal = await db
      .owner("goals")
      .where({ goal_id: first?.goal_id ?? "" })
      .first();
    if (!goal || !first) throw new Error("the demo has no rubric");
    const others = (["Otis", "Anselm", "Yara"] as const).map((given) => ({
      given,
      studentId: demo.student(given),
      goalId: newId(),
    }));
    // Goals as they are added, with the summary of a goal without entries.
    const empty = await db
      .owner("goal_summaries")
      .where({ goal_id: demo.goal("Yara", "3") })
      .first();
    if (!empty) throw new Error("the demo has no goal without entries");
    await db.owner.transaction(async (trx) => {
      for (const { studentId, goalId } of others) {
        await trx("goals").insert({
          ...{ ...goal, wording: goal.wording.replace("Toby", "the student") },
          ...{ goal_id: goalId, student_id: studentId, number: "9", position: 9, measure_version: 1 },
          ...{ criterion: JSON.stringify(goal.criterion), schedule: JSON.stringify(goal.schedule) },
        });
        await trx("goal_measures").insert({
          ...first,
          ...{ goal_id: goalId, version: 1, measure: JSON.stringify(first.measure) },
        });
        await trx("goal_summaries").insert({
          ...empty,
          ...{ goal_id: goalId, student_id: studentId, summary: JSON.stringify(empty.summary) },
        });
      }
    });
    const sittingId = newId();
    for (const [at, { studentId, goalId }] of others.entries())
      expect(
        await noor.sendJson(
          keep.action,
          recordedItem(demo, {
            ...{
              studentId,
              goalId,
              sittingId,
              note: at === 0 ? "Your reasons convince. Next: link them." : null,
            },
            entry: { kind: "rubric", levels: { topic: at + 2, reasons: 3, order: 1, conventions: 4 } },
          }),
        ),
      ).toMatchObject({ outcome: "saved" });
    const { options, students, title } = await noor.load(packets.loader, {}, "?of=assessment");
    expect(options.days[0]?.[1]).toMatch(new RegExp(`: ${goal.title} \\(3 students\\)$`));
    expect(title).toContain(goal.title);
    expect(students.filter(({ state }) => state === "ready").map(({ name }) => name)).toEqual([
      "Anselm Birke",
      "Otis Fairweather",
      "Yara Dimitrov",
    ]);
    const packetId = await ask(["Otis", "Anselm", "Yara"], "?of=assessment");
    await work(packetId);
    expect(await look(packetId)).toMatchObject({ state: "done" });
    const pages = await pagesOf(packetId);
    expect(pages).toHaveLength(3);
    const otis = (pages[1] ?? "").replace(/\s+/g, " ");
    expect(otis).toContain("Otis Fairweather");
    // Worked by hand: levels 2, 3, 1 and 4 of four times 4, in the words of the demo's rubric, described from level 1.
    expect(otis).toMatch(
      /10 of 16 points.*Your reasons convince\. Next: link them\..*Topic sentence 2 of 4 names the topic.*Reasons 3 of 4 two, explained.*Linking words 1 of 4 none.*Conventions 4 of 4 ready to share/,
    );
    expect(pages[0]).not.toContain("Your reasons convince");
  });
});

describe("the process that makes packets", () => {
  it(
    "takes them from the queue; killed, its packet is made by the next one",
    { timeout: 900_000 },
    async () => {
      // Of the tests above each asked for work too.
      await db.owner("jobs.job").where({ name: "packet" }).delete();
      const maker = openPacketMaker({ assets, databaseUrl: db.appUrl });
      const killed = await ask(["Otis", "Anselm", "Yara"], "?for=file&odd=yes");
      const jobs = keepJobsRunning(db.appUrl, db.app, { pollingIntervalSeconds: 0.5, packets: maker });
      try {
        await expect
          .poll(async () => (await rowOf(killed))?.worker ?? null, { timeout: 300_000 })
          .not.toBeNull();
        for (const pid of maker.pids()) process.kill(pid, "SIGKILL");
        await db
          .owner("packets")
          .where({ packet_id: killed })
          .update({ heard_at: db.owner.raw("now() - interval '2 minutes'") });
        await expect.poll(async () => (await rowOf(killed))?.state, { timeout: 300_000 }).toBe("done");
        expect((await bytesOf(killed)).subarray(0, 5).toString()).toBe("%PDF-");
      } finally {
        await jobs.stop();
      }
      expect(maker.pids()).toEqual([]);
    },
  );
});
