import { mkdir, mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { stringify } from "csv-stringify/sync";
import type { DataTable, ReportDocument } from "#core/report/document.ts";
import type { FileFormat } from "#core/report/file-formats.ts";
import { reportText } from "#core/report/report-text.ts";
import type { Printer } from "#server/exports/printer.ts";
import { readStyles } from "#server/exports/styles.ts";
import { type FiledPicture, reportWord } from "#server/exports/word.ts";
import { reportWorkbook } from "#server/exports/workbook.ts";
import { fileName, writeZip, type ZipEntry } from "#server/exports/zip.ts";
import { drawingOf } from "./drawings.tsx";
import { calledOf, type FiledReport, type Paper, pictureName, reportHtml } from "./report-html.tsx";

/** A report that becomes a file, and how its student is called in the name of the file. */
export interface NamedReport extends FiledReport {
  initials: string;
}

/** What files are made with. */
export interface FileTools {
  printer: Printer;
  /** The folder of what pages load: `build/client/assets`. */
  assets: string;
  paper: Paper;
  /** Writes pictures of the student into a folder under their ids, as many as there are. */
  writePictures: (pictureIds: readonly string[], folder: string) => Promise<void>;
  /** The file as it was made earlier, where it was: then it is not made again. */
  stored?: Buffer | null;
}

export interface MadeFile {
  name: string;
  type: string;
  content: Buffer;
}

const types: Record<FileFormat, [extension: string, type: string]> = {
  pdf: ["pdf", "application/pdf"],
  docx: ["docx", "application/vnd.openxmlformats-officedocument.wordprocessingml.document"],
  xlsx: ["xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"],
  csv: ["csv", "text/csv; charset=utf-8"],
  json: ["json", "application/json; charset=utf-8"],
  text: ["txt", "text/plain; charset=utf-8"],
  record: ["zip", "application/zip"],
};

/** "WA-3f2a-edition-3-2026-11-24": of whom only the initials, and what tells two of them apart. */
export const reportName = ({ initials, studentId, edition, document }: NamedReport): string =>
  fileName(
    [
      ...[initials.replace(/[^\p{L}\p{N}]/gu, ""), studentId.slice(-4)],
      ...[edition === null ? "report" : `edition-${edition}`, document.span.to],
    ].join("-"),
  );

/** The version of the JSON file, which `docs/formats.md` describes. */
export const jsonVersion = 1;

const csvOf = ({ head, rows }: DataTable): string =>
  // A text that begins like a formula must not become one in the program that opens the file.
  stringify([head, ...rows], { bom: true, record_delimiter: "windows", escape_formulas: true });

/** The points of all goals as one table; null where the report has none, as an edition of an earlier program. */
export function seriesTable({ data }: ReportDocument): DataTable | null {
  const [first] = data?.goals ?? [];
  return first ? { head: first.head, rows: (data?.goals ?? []).flatMap(({ rows }) => rows) } : null;
}

const emptyTable: DataTable = { head: ["series", "date", "phase", "value"], rows: [] };

const jsonOf = ({ document, edition }: FiledReport): string =>
  `${JSON.stringify({ format: "gentle-margin-report", version: jsonVersion, edition, report: document }, null, 2)}\n`;

/** The pictures that a report shows. */
export const shownPictures = ({ sections }: ReportDocument): string[] =>
  sections.flatMap(({ blocks }) =>
    blocks.flatMap((block) =>
      block.kind === "pictures" ? block.items.map(({ pictureId }) => pictureId) : [],
    ),
  );

/** Every picture that a line names and that has arrived, with its day and its words. */
const linedPictures = ({ sections }: ReportDocument) =>
  sections.flatMap(({ blocks }) =>
    blocks.flatMap((block) =>
      block.kind === "line"
        ? (block.line.pictures ?? []).flatMap(({ pictureId, words, isHere }) =>
            isHere ? { pictureId, words, on: block.line.on } : [],
          )
        : [],
    ),
  );

/** Works in a folder of its own that nobody else reads, and removes it. */
export async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), "gentle-margin-file-"));
  try {
    await mkdir(join(folder, "pictures"), { mode: 0o700 });
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function writePdf(report: NamedReport, folder: string, tools: FileTools): Promise<string> {
  const { printer, assets, paper } = tools;
  const title = `${report.document.title} · ${calledOf(report)}`;
  await writeFile(
    join(folder, "page.html"),
    reportHtml([report], title, { styles: await readStyles(assets), paper }),
    { mode: 0o600 },
  );
  const out = join(folder, "report.pdf");
  await printer.print({ folder, out });
  return out;
}

async function readPictures(ids: readonly string[], folder: string): Promise<Map<string, FiledPicture>> {
  const read = await Promise.all(
    ids.map(async (id) => {
      const content = await readFile(join(folder, pictureName(id))).catch(() => null);
      return content && ([id, { content, type: content[0] === 0x89 ? "png" : "jpg" }] as const);
    }),
  );
  return new Map(read.filter((one) => one !== null));
}

/** What is in the folder of a full record. */
async function* recordEntries(
  report: NamedReport,
  folder: string,
  tools: FileTools,
): AsyncGenerator<ZipEntry> {
  const { document } = report;
  const series = seriesTable(document);
  const { incidents, jots } = document.data ?? {};
  yield { name: "report.pdf", path: await writePdf(report, folder, tools) };
  yield { name: "report.txt", content: reportText(document, calledOf(report)) };
  yield { name: "report.json", content: jsonOf(report) };
  if (series) yield { name: "points.csv", content: csvOf(series) };
  if (incidents) yield { name: "incidents.csv", content: csvOf(incidents) };
  if (jots) yield { name: "jots.csv", content: csvOf(jots) };
  for (const { pictureId, words, on } of linedPictures(document)) {
    const path = join(folder, pictureName(pictureId));
    const bytes = await readFile(path).catch(() => null);
    if (bytes)
      yield { name: `pictures/${on} ${words.slice(0, 60)}.${bytes[0] === 0x89 ? "png" : "jpg"}`, path };
  }
}

async function contentOf(report: NamedReport, format: FileFormat, tools: FileTools): Promise<Buffer> {
  const { document } = report;
  switch (format) {
    case "text":
      return Buffer.from(reportText(document, calledOf(report)));
    case "json":
      return Buffer.from(jsonOf(report));
    case "csv":
      return Buffer.from(csvOf(seriesTable(document) ?? emptyTable));
    case "xlsx":
      return reportWorkbook(document, calledOf(report));
    case "pdf":
      return inFolder(async (folder) => {
        await tools.writePictures(shownPictures(document), join(folder, "pictures"));
        return readFile(await writePdf(report, folder, tools));
      });
    case "docx":
      return inFolder(async (folder) => {
        const ids = shownPictures(document);
        await tools.writePictures(ids, join(folder, "pictures"));
        const pictures = await readPictures(ids, folder);
        return reportWord(document, {
          ...{ drawingOf, called: calledOf(report), paper: tools.paper },
          pictureOf: (pictureId) => pictures.get(pictureId) ?? null,
        });
      });
    case "record":
      return inFolder(async (folder) => {
        const ids = [
          ...shownPictures(document),
          ...linedPictures(document).map(({ pictureId }) => pictureId),
        ];
        await tools.writePictures([...new Set(ids)], join(folder, "pictures"));
        const out = join(folder, "record.zip");
        await writeZip(out, reportName(report), recordEntries(report, folder, tools));
        return readFile(out);
      });
  }
}

/**
 * Makes the file of a report. All formats are made of the same document.
 *
 * @throws NotPrinted where a PDF is asked for and cannot be made
 */
export async function makeFile(report: NamedReport, format: FileFormat, tools: FileTools): Promise<MadeFile> {
  const [extension, type] = types[format];
  return {
    type,
    name: `${reportName(report)}${format === "record" ? "-record" : ""}.${extension}`,
    content: tools.stored ?? (await contentOf(report, format, tools)),
  };
}
