import { renderToStaticMarkup } from "react-dom/server";
import type { ReportDocument } from "#core/report/document.ts";
import { fileWords } from "#core/words/files.ts";
import { type ReportPaths, ReportPathsContext } from "#app/report/report-paths.ts";
import { cssString, ReportSheet } from "#app/report/report-sheet.tsx";

/** A report that leaves as a file. */
export interface FiledReport {
  studentId: string;
  document: ReportDocument;
  /** The number of the edition; null for a running report. */
  edition: number | null;
}

/** The sizes of paper that a school may print on. */
export const papers = ["letter", "a4"] as const;
export type Paper = (typeof papers)[number];

/** What a page may do to be looked over: `mark` outlines whatever is wider than its place. */
interface HtmlOptions {
  /** The styles of the application, as text. */
  styles: string;
  paper: Paper;
  /** Does each report begin on a right-hand page? */
  oddPages?: boolean;
}

/** "Edition 3", or what kind of report it is. */
export const calledOf = ({ document, edition }: Pick<FiledReport, "document" | "edition">): string =>
  edition === null ? document.called : fileWords[document.language].edition(edition);

/** The name of a picture within a file of reports. */
export const pictureName = (pictureId: string): string => `pictures/${pictureId}`;

/** A page has no links to pages of the staff: readers of a file have none. */
const paths: ReportPaths = {
  page: () => null,
  picture: (_, pictureId) => pictureName(pictureId),
  isFile: true,
};

const size: Record<Paper, string> = { letter: "letter", a4: "A4" };

/** A server has no typefaces of its own to count on. */
const face = '"Atkinson Hyperlegible Next Variable", sans-serif';

/** Each report has the head of its own pages: whom it is about, which days, which edition. */
const headOf = ({ document, edition }: FiledReport, at: number) => `
@page report-${at} { @top-left { font-family: ${face}; content: ${cssString([document.head, edition === null ? null : calledOf({ document, edition })].filter(Boolean).join(" · "))}; } }
.report-${at} { page: report-${at}; }`;

/**
 * Reports as one page of HTML that is printed to a PDF: the same drawing as on the screen, in the styles of paper. It names nothing but
 * pictures (`pictures/…`).
 *
 * @param title of the file, in the language of its first report
 */
export function reportHtml(
  reports: readonly FiledReport[],
  title: string,
  { styles, paper, oddPages = false }: HtmlOptions,
): string {
  const [first] = reports;
  const own = `
@page { size: ${size[paper]}; @bottom-right { font-family: ${face}; } }
${reports.map(headOf).join("\n")}
/* What a screen reader hears of a heading on the page, it finds in the tags of the file. */
.filed :is(h2.sr-only, h3 .sr-only) { position: static; width: auto; height: auto; margin: 0; clip-path: none; overflow: visible; }
.filed h2.sr-only { margin-bottom: 0.3cm; font-size: 13pt; font-weight: 600; }
.filed h3 .sr-only { display: block; width: 1cm; font-size: 1pt; line-height: 1; color: white; white-space: normal; overflow-wrap: anywhere; }
.filed + .filed { break-before: ${oddPages ? "right" : "page"}; }`;
  return `<!doctype html>${renderToStaticMarkup(
    <html lang={first?.document.language ?? "en"}>
      <head>
        <meta charSet="utf-8" />
        <title>{title}</title>
        <style dangerouslySetInnerHTML={{ __html: asStyle(`${styles}\n${own}`) }} />
      </head>
      <body>
        <ReportPathsContext value={paths}>
          {reports.map((report, at) => (
            <main key={at} className={`notebook filed report-${at}`} lang={report.document.language}>
              <ReportSheet
                report={report.document}
                studentId={report.studentId}
                heading={
                  <>
                    <h1 className="text-[1.9rem] leading-tight font-semibold" dir="auto">
                      {report.document.title}
                    </h1>
                    <p className="report-by">{calledOf(report)}</p>
                  </>
                }
              />
            </main>
          ))}
        </ReportPathsContext>
      </body>
    </html>,
  )}`;
}

/** Text within a style element ends it nowhere else than at its end. */
const asStyle = (text: string) => text.replaceAll("</", "<\\/");
