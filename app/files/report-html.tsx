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

/** Each report has the head of its own pages: whom it is about, which days, which edition. In a packet its pages are counted for themselves. */
const pagesOf = ({ document, edition }: FiledReport, at: number, isAlone: boolean) => `
@page report-${at} {
  ${isAlone ? "" : `counter-increment: page-${at}; @bottom-right { content: counter(page-${at}); }`}
  @top-left { font-family: ${face}; content: ${cssString([document.head, edition === null ? null : calledOf({ document, edition })].filter(Boolean).join(" · "))}; }
}
.report-${at} { page: report-${at}; }`;

/** Text within an element ends it nowhere else than at its end. */
const styleElement = (text: string) =>
  renderToStaticMarkup(<style dangerouslySetInnerHTML={{ __html: text.replaceAll("</", "<\\/") }} />);

/**
 * The beginning of a page of HTML that is printed to a PDF: the same drawing as on the screen, in the styles of paper. Its reports follow,
 * each as `reportPart`, and then `htmlEnd`: a packet is written report by report.
 *
 * @param title of the file
 * @param language of its first report
 */
export function htmlStart(
  title: string,
  language: ReportDocument["language"],
  { styles, paper }: HtmlOptions,
): string {
  const own = `
@page { size: ${size[paper]}; @bottom-right { font-family: ${face}; } }
/* What a screen reader hears of a heading on the page, it finds in the tags of the file. */
.filed :is(h2.sr-only, h3 .sr-only) { position: static; width: auto; height: auto; margin: 0; clip-path: none; overflow: visible; }
.filed h2.sr-only { margin-bottom: 0.3cm; font-size: 13pt; font-weight: 600; }
.filed h3 .sr-only { display: block; width: 1cm; font-size: 1pt; line-height: 1; color: white; white-space: normal; overflow-wrap: anywhere; }
.filed-next { break-before: page; }
/* What fills up to a right-hand page (server/exports/print-worker.ts). */
@page blank { @top-left { content: none; } @bottom-right { content: none; } }`;
  return `<!doctype html><html lang="${language}"><head><meta charset="utf-8"/>${renderToStaticMarkup(<title>{title}</title>)}${styleElement(`${styles}\n${own}`)}</head><body>`;
}

/**
 * One report of the page. It names nothing but pictures (`pictures/…`).
 *
 * @param at its place among the reports of the page, from 0
 * @param isAlone is it the only one? Its pages are then numbered with how many they are
 */
export const reportPart = (report: FiledReport, at: number, isAlone = false): string =>
  styleElement(pagesOf(report, at, isAlone)) +
  renderToStaticMarkup(
    <ReportPathsContext value={paths}>
      <main
        className={`notebook filed report-${at}${at > 0 ? " filed-next" : ""}`}
        lang={report.document.language}
      >
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
    </ReportPathsContext>,
  );

export const htmlEnd = "</body></html>";

/** Reports as one page of HTML. */
export const reportHtml = (reports: readonly FiledReport[], title: string, options: HtmlOptions): string =>
  [
    htmlStart(title, reports[0]?.document.language ?? "en", options),
    ...reports.map((report, at) => reportPart(report, at, reports.length === 1)),
    htmlEnd,
  ].join("\n");
