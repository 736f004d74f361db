import { writeFile } from "node:fs/promises";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { v7 as newId } from "uuid";
import { type Audience, audiences } from "#core/report/audience.ts";
import { writtenTexts } from "#core/report/edition.ts";
import { type FileFormat, fileFormats } from "#core/report/file-formats.ts";
import { reportSpans } from "#core/report/report-spans.ts";
import type { Language } from "#core/words/en.ts";
import type { JobActor } from "#server/access/actor.ts";
import type { Scope } from "#server/access/scope.ts";
import { findAudience } from "#server/db/audiences.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { connectApplication } from "#server/db/connection.ts";
import { noteDisclosure } from "#server/db/disclosures.ts";
import { findEdition, listEditions } from "#server/db/editions.ts";
import { readSchoolLocale } from "#server/db/locale.ts";
import { findNamesIn } from "#server/db/names.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { withScope } from "#server/db/school.ts";
import { listSchoolIds } from "#server/db/sessions.ts";
import { listCalledStudents } from "#server/db/students.ts";
import { NotPrinted, openPrinter } from "#server/exports/printer.ts";
import { withOwnLocale, writeIn } from "#server/locale.ts";
import { fileOf } from "#app/files/file-of.ts";

const usage = `usage: npm run -s export -- students
       npm run -s export -- report --student ALIAS --audience ${audiences.join("|")} --format ${fileFormats.join("|")}
         [--span "Trimester 1"] [--language en|es] [--edition N] [--for WHOM] [--why REASON] [--keep-names] --out FILE`;

/** What is wrong with what was asked: said without a stack, with exit code 2. */
class Asked extends Error {}

const { values: options, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    ...{ student: { type: "string" }, audience: { type: "string" }, format: { type: "string" } },
    ...{ span: { type: "string" }, language: { type: "string" }, edition: { type: "string" } },
    ...{ for: { type: "string" }, why: { type: "string" }, out: { type: "string" } },
    "keep-names": { type: "boolean", default: false },
  },
});

const database = connectApplication(process.env["APP_DATABASE_URL"] ?? "", { max: 2 });
const inSchool = <T>(
  schoolId: string,
  studentId: string | null,
  work: (scope: Scope<JobActor>) => Promise<T>,
) => withScope(database, { kind: "job", schoolId, name: "export" }, studentId, work);

async function everyStudent() {
  const found = [];
  for (const schoolId of await listSchoolIds(database))
    for (const one of await inSchool(schoolId, null, listCalledStudents)) found.push({ ...one, schoolId });
  return found;
}

function oneOf<T extends string>(name: string, value: string | undefined, all: readonly T[]): T {
  const found = all.find((one) => one === value);
  if (found === undefined) throw new Asked(`--${name} is one of ${all.join(", ")}`);
  return found;
}

async function findAsked(called: string) {
  const found = (await everyStudent()).filter(
    ({ studentId, alias }) => called === studentId || called === alias,
  );
  const [one] = found;
  if (!one) throw new Asked(`no student is called ${called}: "npm run -s export -- students" lists them`);
  if (found.length > 1)
    throw new Asked(
      `several students are called ${called}: ${found.map(({ studentId }) => studentId).join(", ")}`,
    );
  return one;
}

/** The report that was asked for: an edition, or the running report of a span. */
async function readAsked(
  scope: Scope,
  studentId: string,
  audience: Audience,
  language: Language | undefined,
) {
  const { edition: number, span: wanted } = options;
  const editions = await listEditions(scope, studentId);
  if (number !== undefined) {
    const edition = editions.find((one) => String(one.number) === number);
    if (!edition) throw new Asked(`there is no edition ${number} of this student`);
    if (edition.audience !== audience)
      throw new Asked(`edition ${number} is for the audience ${edition.audience}`);
    const { document } = await findEdition(scope, studentId, edition.editionId);
    if (language && document.language !== language)
      throw new Asked(`edition ${number} is in the language ${document.language}`);
    return { document, edition: { editionId: edition.editionId, number: edition.number } };
  }
  const calendar = await readCalendar(scope);
  const [last] = editions;
  const spans = reportSpans(calendar, scope.today, last ? { number: last.number, to: last.span.to } : null);
  const span =
    wanted === undefined
      ? spans[0]
      : // "Trimester 1" is "Trimester 1 so far" while it goes on.
        (spans.find(({ words }) => words.toLowerCase() === wanted.toLowerCase()) ??
        spans.find(({ words }) => words.toLowerCase().startsWith(`${wanted.toLowerCase()} `)));
  if (!span) throw new Asked(`--span is one of ${spans.map(({ words }) => `"${words}"`).join(", ")}`);
  const found = await findAudience(scope, studentId, audience);
  if (!found) throw new Asked(`the school has no audience ${audience}`);
  const { report } = await readReportFor(scope, studentId, {
    ...{ audience, order: "time", calendar, limit: null, withData: true },
    span: { from: span.from, to: span.to },
    settings: { ...found.settings, ...(language ? { language } : {}) },
  });
  return { document: report, edition: null };
}

/** Stops where the report may name another student, unless somebody has looked at each place. */
async function requireNames(scope: Scope, studentId: string, texts: readonly { text: string }[]) {
  const finds = await findNamesIn(
    scope,
    studentId,
    texts.map(({ text }) => text),
  );
  const n = finds.filter((found) => found.length > 0).length;
  if (n > 0 && !options["keep-names"])
    throw new Asked(
      `${n} texts may name another student. Look at them on the page "Files"; with --keep-names they stay as they are.`,
    );
}

async function exportReport(): Promise<void> {
  const { student = "", out = "" } = options;
  if (!student || !out) throw new Asked(usage);
  const audience = oneOf("audience", options.audience, audiences);
  const format: FileFormat = oneOf("format", options.format, fileFormats);
  const language =
    options.language === undefined ? undefined : oneOf("language", options.language, ["en", "es"]);
  if (format === "record" && !options.why) throw new Asked("a full record needs --why");
  const { schoolId, studentId } = await findAsked(student);
  const asked = await inSchool(schoolId, studentId, async (scope) => {
    writeIn(await readSchoolLocale(scope));
    const { document, edition } = await readAsked(scope, studentId, audience, language);
    await requireNames(scope, studentId, writtenTexts(document));
    await noteDisclosure(
      scope,
      {
        ...{ disclosureId: newId(), studentId, format, edition },
        ...{ recipient: options.for ?? "the administrator of the server", reason: options.why ?? null },
      },
      document,
    );
    return { schoolId, studentId, document, edition };
  });
  const printer = openPrinter();
  try {
    const { content } = await fileOf((work) => inSchool(schoolId, studentId, work), asked, format, {
      ...{ printer, assets: join(process.cwd(), "build/client/assets") },
    });
    // It holds a child's record: only its owner reads it.
    await writeFile(out, content, { mode: 0o600 });
  } finally {
    await printer.stop();
  }
}

async function run(): Promise<void> {
  const [verb] = positionals;
  if (verb === "students")
    for (const { studentId, alias } of await everyStudent())
      console.log(JSON.stringify({ studentId, alias }));
  else if (verb === "report") await exportReport();
  else throw new Asked(usage);
}

try {
  await withOwnLocale(run);
} catch (error) {
  if (error instanceof NotPrinted)
    console.error(
      error.why === "no-chromium"
        ? "export: there is no Chromium on this machine: apt-get install chromium-headless-shell"
        : "export: the PDF could not be made. Try again.",
    );
  else if (error instanceof Asked) console.error(`export: ${error.message}`);
  else throw error;
  process.exitCode = error instanceof Asked ? 2 : 1;
} finally {
  await database.destroy();
}
