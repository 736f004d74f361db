import { once } from "node:events";
import { createReadStream, createWriteStream, type WriteStream } from "node:fs";
import { mkdir, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { finished } from "node:stream/promises";
import { v7 as newId } from "uuid";
import { composeAssessment } from "#core/report/compose-assessment.ts";
import type { ReportDocument } from "#core/report/document.ts";
import { writtenTexts } from "#core/report/edition.ts";
import type { PacketChoice } from "#core/report/packet.ts";
import type { JobActor } from "#server/access/actor.ts";
import { requirePermission, type Scope } from "#server/access/scope.ts";
import { findAudience } from "#server/db/audiences.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { leadsNow } from "#server/db/circle.ts";
import type { Database } from "#server/db/connection.ts";
import { noteDisclosure } from "#server/db/disclosures.ts";
import { findEdition, listEditions } from "#server/db/editions.ts";
import { listEntriesOfDay } from "#server/db/entry-lists.ts";
import { listCircle } from "#server/db/goals.ts";
import { readSchoolLocale, readSchoolName } from "#server/db/locale.ts";
import { findNamesIn } from "#server/db/names.ts";
import {
  endPacket,
  findPacket,
  inPacketWork,
  leavePacket,
  type Packet,
  type PacketReport,
  readPacketReport,
  storePacketReport,
  storePiece,
  takePacket,
  workAtPacket,
} from "#server/db/packets.ts";
import { readPaper } from "#server/db/paper.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { NotPrinted, type Printer } from "#server/exports/printer.ts";
import { readStyles } from "#server/exports/styles.ts";
import { fileName, writeZip, type ZipEntry } from "#server/exports/zip.ts";
import { log, loggableError } from "#server/failure.ts";
import { withOwnLocale, writeIn } from "#server/locale.ts";
import { fileOf, pictureWriter } from "./file-of.ts";
import { inFolder, shownPictures } from "./make-file.ts";
import { htmlEnd, htmlStart, reportPart } from "./report-html.tsx";

interface Around {
  database: Database;
  printer: Printer;
  /** The folder of what pages load. */
  assets: string;
  /** Ends the work where it is; another process goes on with it. */
  stopping: AbortSignal;
}

/** So often another process, or the page, is told that this one is at work; and so much of the file is stored at a time. */
const heartbeatMs = 5000;
const pieceBytes = 1 << 20;
/** A packet that was begun so often without an end is given up. */
const mostTries = 6;

/** After so many reports the memory that they took is given back. */
const reportsTogether = 5;
let sinceGivenBack = 0;
function giveBack(): void {
  sinceGivenBack += 1;
  if (sinceGivenBack % reportsTogether === 0) globalThis.gc?.();
}

type WorkScope = Scope<JobActor>;
type InWork = <T>(studentId: string | null, work: (scope: WorkScope) => Promise<T>) => Promise<T>;

/** It was stopped by its person, or another process works at it now. */
class NotOurs extends Error {}

/** The report of a student that a packet asks for, and of which edition it is; null where there is nothing. */
async function readAsked(
  scope: WorkScope,
  studentId: string,
  { of, audience, span, rubric }: PacketChoice,
): Promise<{ document: ReportDocument; edition: { editionId: string; number: number } | null } | null> {
  if (of === "editions") {
    const last = (await listEditions(scope, studentId)).find((one) => one.audience === audience);
    if (!last) return null;
    const { document } = await findEdition(scope, studentId, last.editionId);
    return { document, edition: { editionId: last.editionId, number: last.number } };
  }
  if (of === "reports") {
    const calendar = await readCalendar(scope);
    const { report } = await readReportFor(scope, studentId, {
      ...{ audience, span, order: "time", calendar, limit: null },
    });
    return { document: report, edition: null };
  }
  const { settings, name } = (await findAudience(scope, studentId, audience)) ?? notFound();
  const goals = (await listGoals(scope, studentId)).filter(({ title }) => title === rubric);
  const entries = (await listEntriesOfDay(scope, studentId, span.to)).filter(({ goalId }) =>
    goals.some((goal) => goal.goalId === goalId),
  );
  if (entries.length === 0) return null;
  const document = composeAssessment(
    {
      ...{ goals, entries, today: scope.today },
      student: await findStudent(scope, studentId),
      schoolName: await readSchoolName(scope),
      circle: await listCircle(scope, studentId),
    },
    { audience, settings, audienceName: name, on: span.to },
  );
  return { document, edition: null };
}

/** Reads the report of one student and stores it for the packet, or why it is not in it. */
async function readOne(
  scope: WorkScope,
  { packetId, personId, choice }: Packet,
  studentId: string,
): Promise<void> {
  requirePermission(scope, "packet.work");
  const store = (...args: [state: PacketReport["state"], read?: Parameters<typeof storePacketReport>[4]]) =>
    storePacketReport(scope, packetId, studentId, ...args);
  if (!(await leadsNow(scope, personId, studentId))) return store("not lead");
  const read = await readAsked(scope, studentId, choice);
  if (read === null) return store("nothing");
  // The names of an edition were looked at when it was made.
  const texts = read.edition ? [] : writtenTexts(read.document).map(({ text }) => text);
  const finds = await findNamesIn(scope, studentId, texts);
  return store(finds.some((found) => found.length > 0) ? "names" : "read", read);
}

/** What a packet is being made with. */
interface Making extends Around {
  schoolId: string;
  packet: Packet;
  folder: string;
  inWork: InWork;
  /** Notes that the report of a student could not be made, and why in the log. */
  failed: (report: PacketReport, error: unknown) => Promise<void>;
}

/** The report of a student as it was read. */
const documentOf = ({ inWork, packet: { packetId } }: Making, studentId: string): Promise<ReportDocument> =>
  inWork(studentId, async (scope) => (await readPacketReport(scope, packetId, studentId)) ?? notFound());

/** Does something with each report as it was read. One that fails is noted and left out; answers with the others. */
async function eachReport(
  making: Making,
  reports: readonly PacketReport[],
  work: (report: PacketReport, document: ReportDocument) => Promise<void>,
): Promise<PacketReport[]> {
  const done: PacketReport[] = [];
  for (const report of reports) {
    giveBack();
    try {
      await work(report, await documentOf(making, report.studentId));
      done.push(report);
    } catch (error) {
      if (error instanceof NotPrinted && error.why === "no-chromium") throw error;
      await making.failed(report, error);
    }
  }
  return done;
}

async function write(stream: WriteStream, text: string): Promise<void> {
  if (!stream.write(text)) await once(stream, "drain");
}

/** Writes the page of some reports, one after the other. Answers with those that are in it. */
async function writePage(
  making: Making,
  reports: readonly PacketReport[],
  { folder, styles, paper }: { folder: string; styles: string; paper: "letter" | "a4" },
): Promise<PacketReport[]> {
  const { packet, inWork, schoolId } = making;
  await mkdir(join(folder, "pictures"), { recursive: true, mode: 0o700 });
  const page = createWriteStream(join(folder, "page.html"), { mode: 0o600 });
  const written = finished(page);
  const { title } = packet.choice;
  await write(page, htmlStart(title, "en", { styles, paper }));
  let place = 0;
  const inIt = await eachReport(making, reports, async ({ studentId, edition }, document) => {
    const writePictures = pictureWriter({ schoolId, studentId }, (work) => inWork(studentId, work));
    await writePictures(shownPictures(document), join(folder, "pictures"));
    await write(page, reportPart({ studentId, document, edition: edition?.number ?? null }, place));
    place += 1;
  });
  page.end(htmlEnd);
  await written;
  return inIt;
}

/** One PDF of all reports. Where it cannot be printed, each is printed alone, and those that cannot be are left out. */
async function makeOne(making: Making, reports: readonly PacketReport[]) {
  const { folder, printer, failed, inWork, assets } = making;
  const around = { styles: await readStyles(assets), paper: await inWork(null, readPaper) };
  const out = join(folder, "packet.pdf");
  const print = async (some: readonly PacketReport[], name: string) => {
    const own = join(folder, name);
    await mkdir(own, { mode: 0o700 });
    const inIt = await writePage(making, some, { ...around, folder: own });
    if (inIt.length > 0)
      await printer.print({
        ...{ folder: own, out, timeoutMs: 60_000 + 3000 * inIt.length },
        ...(making.packet.choice.oddPages ? { onRightPages: inIt.length } : {}),
      });
    return inIt;
  };
  try {
    return { out, inIt: await print(reports, "all") };
  } catch (error) {
    if (!(error instanceof NotPrinted) || error.why === "no-chromium" || making.stopping.aborted) throw error;
    const good: PacketReport[] = [];
    for (const report of reports)
      try {
        good.push(...(await print([report], `alone-${report.place}`)));
      } catch (alone) {
        await failed(report, alone);
      }
    return { out, inIt: good.length === 0 ? good : await print(good, "good") };
  }
}

/** A ZIP with a file for each student. */
async function makeZip(making: Making, reports: readonly PacketReport[], format: "pdf" | "docx") {
  const { folder, schoolId, packet, inWork } = making;
  const entries: ZipEntry[] = [];
  const inIt = await eachReport(making, reports, async ({ studentId, edition, place }, document) => {
    const { name, content } = await fileOf(
      (work) => inWork(studentId, work),
      { schoolId, studentId, document, edition },
      format,
      making,
    );
    const path = join(folder, `${place}.${format}`);
    await writeFile(path, content, { mode: 0o600 });
    entries.push({ name, path });
  });
  const out = join(folder, "packet.zip");
  if (inIt.length > 0) await writeZip(out, packet.choice.title, entries);
  return { out, inIt };
}

/** Makes the file of the reports that were read, stores it, and notes each of them as leaving. */
async function makeAll(making: Making, reports: readonly PacketReport[], ours: () => void, worker: string) {
  const { packet, inWork } = making;
  const { packetId, choice, recipient, reason, personId } = packet;
  const format = choice.form === "words" ? "docx" : "pdf";
  const { out, inIt } =
    choice.form === "one" ? await makeOne(making, reports) : await makeZip(making, reports, format);
  if (inIt.length === 0)
    return inWork(null, (scope) => endPacket(scope, packetId, worker, { state: "failed" }));
  let place = 0;
  for await (const piece of createReadStream(out, { highWaterMark: pieceBytes })) {
    ours();
    place += 1;
    await inWork(null, async (scope) => {
      if (!(await workAtPacket(scope, packetId, worker))) throw new NotOurs();
      await storePiece(scope, packetId, place, piece as Buffer);
    });
  }
  const { size } = await stat(out);
  const isOne = choice.form === "one";
  return inWork(null, async (scope) => {
    const file = {
      name: `${fileName(`${choice.title}-${choice.span.to}`)}.${isOne ? "pdf" : "zip"}`,
      type: isOne ? "application/pdf" : "application/zip",
      size,
    };
    if (!(await endPacket(scope, packetId, worker, { state: "done", file }))) throw new NotOurs();
    for (const { studentId, edition } of inIt) {
      const document = (await readPacketReport(scope, packetId, studentId)) ?? notFound();
      await storePacketReport(scope, packetId, studentId, "made");
      await noteDisclosure(
        scope,
        {
          ...{ disclosureId: newId(), studentId, format, edition, recipient, reason },
          packet: { packetId, personId },
        },
        document,
      );
    }
    return true;
  });
}

/**
 * Works at a packet until it is done, stopped, or waits for somebody to look at names. What was read stays read where the process ends
 * before: the next one goes on there.
 *
 * @throws where another process is to go on with it
 */
export async function makePacket(
  { schoolId, packetId }: { schoolId: string; packetId: string },
  around: Around,
): Promise<void> {
  const { database, printer, stopping } = around;
  const worker = newId();
  const inWork: InWork = (studentId, work) => inPacketWork(database, schoolId, studentId, work);
  const tries = await inWork(null, (scope) => takePacket(scope, packetId, worker));
  if (tries === null) return;
  if (tries > mostTries) {
    await inWork(null, (scope) => endPacket(scope, packetId, worker, { state: "failed" }));
    return;
  }
  let isOurs = true;
  const beat = async () => {
    isOurs = await inWork(null, (scope) => workAtPacket(scope, packetId, worker));
    if (!isOurs) await printer.stop();
  };
  const beating = setInterval(() => void beat().catch(() => undefined), heartbeatMs);
  const stop = () => void printer.stop();
  stopping.addEventListener("abort", stop);
  const ours = () => {
    if (!isOurs) throw new NotOurs();
    stopping.throwIfAborted();
  };
  try {
    await withOwnLocale(async () => {
      // A file is the school's, whoever asks for it.
      writeIn(await inWork(null, readSchoolLocale));
      const { packet, reports } = await inWork(null, (scope) => findPacket(scope, packetId));
      const failed = async ({ studentId }: PacketReport, error: unknown) => {
        ours();
        log.error({ error: loggableError(error), student: studentId }, "report of a packet not made");
        await inWork(studentId, (scope) => storePacketReport(scope, packetId, studentId, "failed"));
      };
      for (const report of reports.filter(({ state }) => state === "waiting")) {
        ours();
        giveBack();
        try {
          await inWork(report.studentId, (scope) => readOne(scope, packet, report.studentId));
        } catch (error) {
          await failed(report, error);
        }
      }
      ours();
      const read = await inWork(null, async (scope) => {
        const now = (await findPacket(scope, packetId)).reports;
        if (now.some(({ state }) => state === "names")) {
          await endPacket(scope, packetId, worker, { state: "names" });
          return null;
        }
        const inIt = now.filter(({ state }) => state === "read");
        if (inIt.length > 0) await workAtPacket(scope, packetId, worker, "making");
        else await endPacket(scope, packetId, worker, { state: "failed" });
        return inIt;
      });
      if (!read?.length) return;
      await inFolder(async (folder) => {
        try {
          await makeAll({ ...around, schoolId, packet, folder, inWork, failed }, read, ours, worker);
        } catch (error) {
          ours();
          if (!(error instanceof NotPrinted)) throw error;
          log.error({ why: error.why }, "packet not printed");
          await inWork(null, (scope) => endPacket(scope, packetId, worker, { state: "failed" }));
        }
      });
    });
  } catch (error) {
    if (error instanceof NotOurs || !isOurs) return;
    await inWork(null, (scope) => leavePacket(scope, packetId, worker)).catch(() => undefined);
    throw error;
  } finally {
    clearInterval(beating);
    stopping.removeEventListener("abort", stop);
  }
}
