import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Ajv } from "ajv";
import { parse } from "csv-parse/sync";
import ExcelJS from "exceljs";
import JSZip from "jszip";
import mammoth from "mammoth";
import { chromium } from "playwright-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Audience, audienceDefaults, audiences } from "#core/report/audience.ts";
import { type GoalBlock, linesOf, type ReportDocument } from "#core/report/document.ts";
import { readSeries } from "#core/files/read-series.ts";
import type { Language } from "#core/words/en.ts";
import { students } from "#demo/scenario.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { findChromium } from "#server/exports/chromium.ts";
import { NotPrinted, openPrinter, type Printer } from "#server/exports/printer.ts";
import { readStyles } from "#server/exports/styles.ts";
import { fileName } from "#server/exports/zip.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { withSlowTests } from "#tests/eight-days.ts";
import { hasOffice, pdfFacts, pdfFonts, pdfTags, pdfText, printedByOffice } from "#tests/files-of.ts";
import { caller } from "#tests/route.ts";
import * as files from "#app/routes/files/files.tsx";
import * as packets from "#app/routes/packets/packets.tsx";
import { type FileTools, makeFile, type NamedReport } from "./make-file.ts";
import { reportHtml } from "./report-html.tsx";

const assets = join(import.meta.dirname, "../../build/client/assets");
/** The smallest JPEG and PNG that programs read are made by `sharp` in other tests; here the first bytes are enough. */
const png = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);
let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let printer: Printer;
let folder: string;
let tools: FileTools;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  printer = openPrinter();
  folder = mkdtempSync(join(tmpdir(), "gentle-margin-made-"));
  tools = {
    ...{ printer, assets, paper: "letter" },
    writePictures(ids, into) {
      mkdirSync(into, { recursive: true });
      for (const id of ids) writeFileSync(join(into, id), png);
      return Promise.resolve();
    },
  };
});
afterAll(async () => {
  await printer.stop();
  await db.close();
  rmSync(folder, { recursive: true, force: true });
});

const reportOf = (
  given: string,
  audience: Audience,
  language: Language = "en",
  entries = audienceDefaults[audience].entries,
) =>
  inScope(db.app, demo.person("noor"), demo.student(given), async (scope): Promise<NamedReport> => {
    const { report, initials } = await readReportFor(scope, demo.student(given), {
      ...{ audience, order: "time", limit: null, span: { from: null, to: scope.today } },
      ...{ calendar: await readCalendar(scope), withData: true },
      settings: { ...audienceDefaults[audience], language, entries },
    });
    return { studentId: demo.student(given), document: report, edition: null, initials };
  });
/** Letter with the margins of print, in pixels of a page. */
const printedWidth = 680;

/** In the page: texts that are wider than the place that shows them, and labels of drawings that stand outside of these. */
function cutOff(): string[] {
  const shown = [...document.querySelectorAll(".filed *")].filter(
    (one) => !one.closest(".sr-only") && one.getClientRects().length > 0,
  );
  const hasText = (one: Element) =>
    [...one.childNodes].some((node) => node.nodeType === 3 && node.textContent?.trim());
  const isCut = (one: Element) => {
    if (one instanceof SVGElement) {
      const drawing = one.closest("svg")?.getBoundingClientRect();
      const box = one.getBoundingClientRect();
      return (
        drawing !== undefined &&
        one.tagName === "text" &&
        (box.left < drawing.left - 1 ||
          box.right > drawing.right + 1 ||
          box.top < drawing.top - 1 ||
          box.bottom > drawing.bottom + 1)
      );
    }
    const isHidden = getComputedStyle(one).overflowX !== "visible";
    const isWider = isHidden && one.scrollWidth > one.clientWidth + 1;
    return (
      isWider ||
      (hasText(one) && one.getBoundingClientRect().right > document.documentElement.clientWidth + 1)
    );
  };
  return shown.filter(isCut).map((one) => one.textContent ?? "");
}
const goalsOf = ({ sections }: ReportDocument): GoalBlock[] =>
  sections.flatMap(({ blocks }) => blocks.filter((block) => block.kind === "goal"));
const squeezed = (text: string) => text.replace(/\s+/g, "");

async function print(reports: NamedReport[], name: string, paper: "letter" | "a4" = "letter") {
  writeFileSync(
    join(folder, "page.html"),
    reportHtml(reports, name, { styles: await readStyles(assets), paper }),
  );
  const out = join(folder, `${name}.pdf`);
  await printer.print({ folder, out, timeoutMs: 300_000 });
  return out;
}
async function made(report: NamedReport, format: Parameters<typeof makeFile>[1]) {
  const { content, name, type } = await makeFile(report, format, tools);
  const path = join(folder, name);
  writeFileSync(path, content);
  return { content, name, type, path };
}

describe("the PDF of a report", () => {
  it("is tagged, has its title, language, outline, page numbers and heads, and every font in it", async () => {
    const wren = await reportOf("Wren", "team");
    const { path, name, type } = await made({ ...wren, edition: 3 }, "pdf");
    expect([name, type]).toEqual([
      expect.stringMatching(/^WA-[0-9a-f]{4}-edition-3-2026-11-24\.pdf$/) as string,
      "application/pdf",
    ]);
    const facts = await pdfFacts(path);
    expect(facts).toMatchObject({ Title: "Wren Abara · Edition 3", Tagged: "yes", JavaScript: "no" });
    expect(facts["Page size"]).toContain("letter");
    // PDF/UA (ISO 14289-1): headings, lists, tables with header cells, figures with alternative text, the language of the document.
    const tags = await pdfTags(path);
    for (const tag of ["H1", "H2", "H3", "L (block)", "LI", "Table", "TH", "Figure"])
      expect(tags).toContain(tag);
    expect(tags).toMatch(/H1 \(block\)\s+NonStruct\s+"Wren Abara"/);
    expect(tags).toContain('"At a glance"');
    const bytes = readFileSync(path, "latin1");
    expect(bytes).toMatch(/\/Lang \(en\)/);
    expect(bytes).toMatch(/\/Outlines/);
    expect(bytes.match(/\/Alt \(/g)?.length).toBeGreaterThanOrEqual(goalsOf(wren.document).length);
    expect((await pdfFonts(path)).filter(({ isEmbedded }) => !isEmbedded)).toEqual([]);
    expect((await pdfFonts(path)).map(({ name: font }) => font).join()).toMatch(
      /Literata.*Atkinson|Atkinson.*Literata/,
    );
    const text = await pdfText(path);
    const pages = Number(facts["Pages"]);
    expect(text).toContain(`1 / ${pages}`);
    expect(
      text.split("\f").filter((page) => page.includes("W.A. · through Nov 24, 2026 · Edition 3")).length,
    ).toBe(pages);
  }, 600_000);

  it("is on the paper that the school has, each report of several with its own head, and begins on a new page", async () => {
    const reports = [await reportOf("Wren", "family"), await reportOf("Rafi", "family")];
    const path = await print(reports, "two", "a4");
    expect((await pdfFacts(path))["Page size"]).toContain("A4");
    const pages = (await pdfText(path)).split("\f");
    const [wren = [], rafi = []] = reports.map(({ document }) =>
      pages.filter((page) => page.includes(document.head)),
    );
    expect(wren.length).toBeGreaterThan(0);
    expect(rafi.length).toBeGreaterThan(0);
    expect(wren.filter((page) => rafi.includes(page))).toEqual([]);
  }, 600_000);

  it.each(students.map(({ given }) => given))(
    "of %s says every goal to every audience in both languages, and names no other student",
    async (given) => {
      const reports: NamedReport[] = [];
      for (const audience of audiences)
        for (const language of ["en", "es"] as const) reports.push(await reportOf(given, audience, language));
      const path = await print(reports, "all");
      const text = squeezed(await pdfText(path));
      for (const goal of reports.flatMap(({ document }) => goalsOf(document)))
        expect(text).toContain(squeezed(goal.wording.slice(0, 25)));
      const others = students.filter(
        (one) => one.given !== given && !/^(Will|May|Grace|Art)$/.test(one.given),
      );
      const whole = await pdfText(path);
      for (const other of others)
        expect(whole).not.toMatch(new RegExp(`\\b${other.given} ${other.family}\\b`));
      const pages = Number((await pdfFacts(path))["Pages"]);
      expect(pages).toBeGreaterThanOrEqual(reports.length);
      expect(pages).toBeLessThan(reports.length * 15);
    },
    600_000,
  );

  it("repeats the head of its table of entries on every page that the table is on", async () => {
    const report = await reportOf("Wren", "team", "en", "table");
    const log = report.document.sections.find(({ name }) => name === "log");
    const { columns } = log ?? {};
    if (!log || !columns) throw new Error("the log is no table");
    const pages = (await pdfText(await print([report], "table"))).split("\f");
    const heads = new RegExp(Object.values(columns).join("\\s+"));
    const said = linesOf({ sections: [log] }).map(({ sentence }) => squeezed(sentence).slice(0, 24));
    const rows = (page: string) => said.filter((one) => squeezed(page).includes(one)).length;
    const ofTable = pages.filter((page) => rows(page) > 3);
    expect(ofTable.length).toBeGreaterThan(2);
    for (const page of ofTable) expect(page).toMatch(heads);
  }, 600_000);

  it("cuts nothing off: no text is wider than its place, and no label of a chart stands outside of it", async () => {
    const program = findChromium();
    if (program === null) throw new Error("there is no Chromium");
    const browser = await chromium.launch({ executablePath: program, args: ["--no-sandbox"] });
    try {
      const page = await browser.newPage({ viewport: { width: printedWidth, height: 1000 } });
      await page.emulateMedia({ media: "print" });
      const styles = await readStyles(assets);
      for (const { given } of students)
        for (const [audience, language] of [
          ["team", "en"],
          ["family", "es"],
        ] as const) {
          const report = await reportOf(given, audience, language);
          await page.setContent(reportHtml([report], "x", { styles, paper: "letter" }));
          expect({ given, audience, cut: await page.evaluate(cutOff) }).toEqual({ given, audience, cut: [] });
        }
      // The check itself finds what is cut.
      await page.setContent(
        '<main class="filed"><p style="width: 40px; overflow: hidden; white-space: nowrap">much too long for it</p><svg width="50" height="20"><text x="30" y="15">outside</text></svg></main>',
      );
      expect(await page.evaluate(cutOff)).toEqual(["much too long for it", "outside"]);
    } finally {
      await browser.close();
    }
  }, 900_000);

  it("is said to need Chromium, and how to get it, where the server has none; the rest is made", async () => {
    const before = process.env["CHROMIUM"];
    process.env["CHROMIUM"] = join(folder, "no-such-program");
    const without = openPrinter();
    try {
      const noor = await caller(db.app, "noor", { printer: without, assets });
      const about = { studentId: demo.student("Wren") };
      const { without: missing } = await noor.load(files.loader, about);
      expect(missing.pdf).toMatch(
        /^The server has no Chromium.*apt-get install chromium-headless-shell.*print the report/,
      );
      expect(Object.keys(missing)).toEqual(["pdf", "record"]);
      const report = await reportOf("Wren", "family");
      writeFileSync(join(folder, "page.html"), reportHtml([report], "x", { styles: "", paper: "letter" }));
      await expect(without.print({ folder, out: join(folder, "none.pdf") })).rejects.toEqual(
        new NotPrinted("no-chromium"),
      );
      expect((await makeFile(report, "docx", { ...tools, printer: without })).content.length).toBeGreaterThan(
        1000,
      );
      const { hasChromium } = await noor.load(packets.loader);
      expect(hasChromium).toBe(false);
    } finally {
      if (before === undefined) delete process.env["CHROMIUM"];
      else process.env["CHROMIUM"] = before;
      await without.stop();
    }
  }, 600_000);

  it("comes, or is said not to, where the process hangs: it is ended, and the next document has another", async () => {
    const report = await reportOf("Wren", "family");
    await print([report], "before");
    const pid = printer.pid();
    writeFileSync(join(folder, "page.html"), reportHtml([report], "x", { styles: "", paper: "letter" }));
    process.kill(pid ?? 0, "SIGSTOP");
    await expect(printer.print({ folder, out: join(folder, "never.pdf"), timeoutMs: 500 })).rejects.toEqual(
      new NotPrinted("too-long"),
    );
    const path = await print([report], "after");
    expect(printer.pid()).not.toBe(pid);
    expect((await pdfFacts(path))["Tagged"]).toBe("yes");
  }, 600_000);
});

describe("the Word file of a report", () => {
  it("has headings, lists, tables and pictures with words, as another reader finds them", async () => {
    const report = await reportOf("Wren", "team");
    const { path } = await made(report, "docx");
    const { value: html, messages } = await mammoth.convertToHtml({ path });
    expect(messages.filter(({ type }) => type === "error")).toEqual([]);
    expect(html).toContain("<h1>Wren Abara</h1>");
    for (const { number, title } of goalsOf(report.document))
      expect(html).toContain(`<h3>${number} ${title}</h3>`);
    expect(html).toMatch(/<li>.*Two-digit subtraction/);
    expect(html).toMatch(/<thead>.*The student’s own rating/s);
    const [chart] = goalsOf(report.document);
    expect(html).toContain(`alt="${chart?.chart?.description ?? "?"}"`);
    const zip = await JSZip.loadAsync(readFileSync(path));
    const names = Object.keys(zip.files);
    expect(names.filter((name) => /media\/.*\.svg$/.test(name)).length).toBeGreaterThanOrEqual(5);
    expect(names.some((name) => /media\/.*\.png$/.test(name))).toBe(true);
    const xml = (await zip.file("word/document.xml")?.async("string")) ?? "";
    // ISO/IEC 29500, 17.4.49: a row that is repeated on each page.
    expect(xml).toContain("<w:tblHeader/>");
  });

  it.runIf(withSlowTests && hasOffice)(
    "opens in LibreOffice with all goals, and so does the spreadsheet",
    { timeout: 900_000 },
    async () => {
      const report = await reportOf("Wren", "team");
      for (const format of ["docx", "xlsx"] as const) {
        const { path } = await made(report, format);
        const text = await pdfText(await printedByOffice(path, join(folder, format)));
        for (const { title } of goalsOf(report.document)) expect(text).toContain(title);
      }
    },
  );

  it("reads as a table or as sentences where the audience does", async () => {
    const report = await reportOf("Wren", "family");
    const section = report.document.sections.find(({ name }) => name === "log");
    expect(section?.layout).toBe("sentences");
    const { path } = await made(report, "docx");
    const { value } = await mammoth.extractRawText({ path });
    const first = section?.blocks.find((block) => block.kind === "line");
    expect(value).toContain(first?.kind === "line" ? first.line.sentence : "?");
  });
});

describe("the spreadsheet of a report", () => {
  it("has days as dates and values as numbers, a sheet for each goal, and explains each column", async () => {
    const report = await reportOf("Wren", "team");
    const { path } = await made(report, "xlsx");
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(path);
    const goals = goalsOf(report.document);
    expect(book.worksheets.map(({ name }) => name)).toEqual([
      ...["About this file", ...goals.map(({ number }) => `Goal ${number}`)],
      ...["Log", "Incidents", "Jots", "Columns"],
    ]);
    const sheet = book.getWorksheet(`Goal ${goals[0]?.number ?? ""}`);
    const data = report.document.data?.goals.find(({ goalId }) => goalId === goals[0]?.goalId);
    const at = (key: string) => data?.head.indexOf(key) ?? -1;
    expect(sheet?.actualRowCount).toBe((data?.rows.length ?? 0) + 1);
    for (const [index, row] of (data?.rows ?? []).entries()) {
      const cells = sheet?.getRow(index + 2);
      expect((cells?.getCell(1).value as Date).toISOString().slice(0, 10)).toBe(row[at("date")]);
      expect(cells?.getCell(3).value).toBe(row[at("value")] === "" ? null : row[at("value")]);
    }
    expect(sheet?.views[0]).toMatchObject({ state: "frozen", ySplit: 1 });
    const explained = book.getWorksheet("Columns")?.getColumn(2).values.slice(2) ?? [];
    expect(explained).toContain("Meets criterion");
  });

  it("is in the language of the report", async () => {
    const { path } = await made(await reportOf("Wren", "family", "es"), "xlsx");
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(path);
    const sheet = book.getWorksheet("Meta 2b");
    expect(sheet?.getRow(1).values).toContain("Cumple el criterio");
    expect(sheet?.getRow(2).getCell(2).value).toBe("línea base");
    expect(sheet?.getRow(2).getCell(4).value).toBe("por ciento");
  });

  it("has no incidents and no team-only words for a family", async () => {
    const { document } = await reportOf("Wren", "family");
    expect(document.data?.incidents).toBeUndefined();
    expect(JSON.stringify(document.data)).not.toContain("Grandmother asked");
    expect(JSON.stringify((await reportOf("Wren", "team")).document.data)).toContain("Grandmother asked");
  });
});

describe("CSV, JSON and text", () => {
  it("give the figures of the page again: the CSV is read by what the figures command reads with", async () => {
    const report = await reportOf("Wren", "team");
    const { content } = await made(report, "csv");
    const series = readSeries(content.toString("utf8").replace(/^\ufeff/, ""));
    expect(series.map(({ name }) => name.replace(/^.*goal-/, ""))).toEqual(
      goalsOf(report.document).map(({ number }) => number),
    );
    const rows = parse<Record<string, string>>(content, { columns: true, bom: true });
    const last = rows.findLast(({ series: name }) => name?.endsWith("goal-2b"));
    expect(goalsOf(report.document)[0]?.figures.at(-1)?.value).toBe(`${last?.["value"]}%`);
  });

  it("the JSON is as its schema says (JSON Schema, draft 7)", async () => {
    const validate = new Ajv({ strict: false }).compile(
      JSON.parse(readFileSync(join(import.meta.dirname, "../../docs/report.schema.json"), "utf8")) as object,
    );
    for (const audience of audiences) {
      const { content } = await made(await reportOf("Wren", audience), "json");
      expect(
        validate(JSON.parse(content.toString("utf8"))),
        JSON.stringify(validate.errors?.slice(0, 3)),
      ).toBe(true);
    }
    expect(validate({ format: "gentle-margin-report", version: 1, edition: 0, report: {} })).toBe(false);
  });

  it("the text says every goal's wording and every line", async () => {
    const report = await reportOf("Wren", "team");
    const text = (await made(report, "text")).content.toString("utf8");
    for (const { wording } of goalsOf(report.document)) expect(text).toContain(wording);
    for (const { blocks } of report.document.sections)
      for (const block of blocks) if (block.kind === "line") expect(text).toContain(block.line.sentence);
  });
});

describe("the full record", () => {
  it("is one folder with the PDF, the text, the numbers and every picture", async () => {
    const report = await reportOf("Wren", "file");
    const { path, name } = await made(report, "record");
    const zip = await JSZip.loadAsync(readFileSync(path));
    const names = Object.keys(zip.files);
    const folderName = name.replace(/-record\.zip$/, "");
    expect(names.every((one) => one.startsWith(`${folderName}/`))).toBe(true);
    for (const one of ["report.pdf", "report.txt", "report.json", "points.csv", "incidents.csv", "jots.csv"])
      expect(names).toContain(`${folderName}/${one}`);
    expect(names.filter((one) => one.includes("/pictures/")).length).toBeGreaterThanOrEqual(2);
    const pdf = await zip.file(`${folderName}/report.pdf`)?.async("nodebuffer");
    expect(pdf?.subarray(0, 5).toString()).toBe("%PDF-");
    expect(await zip.file(`${folderName}/report.txt`)?.async("string")).toContain("Grandmother asked");
  }, 600_000);

  it("names no file that leads out of its folder", () => {
    const bad = [
      "../../etc/passwd",
      "..",
      "a/../../b",
      "C:\\x",
      ".hidden",
      "con",
      "a\u0000b",
      "",
      "x".repeat(500),
    ];
    for (const name of bad) expect(fileName(name)).toMatch(/^(?!\.)[\p{L}\p{N}._-]{1,120}$/u);
    expect(bad.map(fileName).filter((name) => name.includes(".."))).toEqual([]);
  });
});

describe("what somebody typed", () => {
  /** A report whose every text is one that programs trip over. */
  const filled = (report: NamedReport, text: string): NamedReport => {
    const document = structuredClone(report.document);
    for (const { blocks } of document.sections)
      for (const block of blocks) {
        if (block.kind === "goal") {
          block.wording = text;
          block.title = text.slice(0, 80);
        }
        if (block.kind === "line") {
          block.line.note = text;
          block.line.sentence = text;
        }
      }
    for (const row of document.data?.jots?.rows ?? []) row[5] = text;
    document.title = text.slice(0, 60);
    document.head = text.slice(0, 60);
    return { ...report, document };
  };
  const texts = {
    "a formula": '=HYPERLINK("http://x.example","go") @SUM(1) +1',
    markup: `</style><script>alert(1)</script>"'\\<img src=x onerror=alert(1)>&amp;`,
    "2,000 characters": "word ".repeat(400),
    "right to left": "قرأت ورين الكلمات بصوت عالٍ، 8 من 10",
    "what no XML may hold": "a\u0000b\u0008c\ufffe d \ud800 e",
  };

  it.each(Object.entries(texts))(
    "as %s comes into every file, and each opens",
    async (what, text) => {
      const report = filled(await reportOf("Wren", "team"), text);
      const { path: pdf } = await made(report, "pdf");
      expect(Number((await pdfFacts(pdf))["Pages"])).toBeGreaterThan(1);
      const { path: word } = await made(report, "docx");
      const { value, messages } = await mammoth.extractRawText({ path: word });
      expect(messages.filter(({ type }) => type === "error")).toEqual([]);
      const { path: sheet } = await made(report, "xlsx");
      const book = new ExcelJS.Workbook();
      await book.xlsx.readFile(sheet);
      const types = new Set<number>();
      book.eachSheet((one) => one.eachRow((row) => row.eachCell((cell) => types.add(cell.type))));
      expect(types.has(ExcelJS.ValueType.Formula)).toBe(false);
      const csv = await made(report, "csv");
      expect(parse(csv.content, { bom: true }).length).toBeGreaterThan(5);
      if (what !== "what no XML may hold") {
        expect(squeezed(value)).toContain(squeezed(text).slice(0, 1000));
        const note = book.getWorksheet("Log")?.getRow(2).getCell(5).text;
        expect(note).toBe(what === "a formula" ? `'${text}` : text);
      }
      if (what === "markup") expect(await pdfText(pdf)).toContain("<script>alert(1)</script>");
    },
    600_000,
  );

  it.each([0, 200])(
    "with %i goals gives files that open",
    async (n) => {
      const report = await reportOf("Wren", "team");
      const document = structuredClone(report.document);
      const [goal] = goalsOf(document);
      document.sections = document.sections.map((section) =>
        section.name === "goals"
          ? {
              ...section,
              blocks: Array.from({ length: n }, (_, at): GoalBlock => ({
                ...(goal as GoalBlock),
                ...{ number: String(at + 1), goalId: `goal-${at}` },
              })),
            }
          : { ...section, blocks: [] },
      );
      document.data = { goals: [] };
      const odd = { ...report, document };
      expect(Number((await pdfFacts((await made(odd, "pdf")).path))["Pages"])).toBeGreaterThan(n / 5);
      expect((await mammoth.extractRawText({ path: (await made(odd, "docx")).path })).value).toContain(
        "Wren Abara",
      );
      const book = new ExcelJS.Workbook();
      await book.xlsx.readFile((await made(odd, "xlsx")).path);
      expect((await made(odd, "csv")).content.toString()).toContain("series,date,phase,value");
      expect((await made(odd, "text")).content.length).toBeGreaterThan(100);
    },
    600_000,
  );
});
