import { type ReactNode, useEffect } from "react";
import type { ReportDocument, ReportSection } from "#core/report/document.ts";
import { layoutOf, ReportBlocks } from "./report-blocks.tsx";

/** The text as a string of CSS. */
export const cssString = (text: string) =>
  `"${text.replace(/[\\"\n]/g, (letter) => `\\${letter.codePointAt(0)?.toString(16) ?? ""} `)}"`;

/** Has every printed page carry these words at its head, for as long as the view is shown. */
function usePrintedHead(words: string): void {
  useEffect(() => {
    const { style } = document.documentElement;
    style.setProperty("--printed-head", cssString(words));
    return () => {
      style.removeProperty("--printed-head");
    };
  }, [words]);
}

/** A section that folds on the screen and is open on paper. The first lines do not fold. */
function Section({ section, children }: { section: ReportSection; children: ReactNode }) {
  return section.name === "glance" ? (
    <section aria-label={section.label}>
      <h2 className="sr-only">{section.label}</h2>
      {children}
    </section>
  ) : (
    <details open className={`report-section report-${section.name}`}>
      <summary>
        <h2>{section.label}</h2>
      </summary>
      <section aria-label={section.label}>{children}</section>
    </details>
  );
}

/**
 * A report as its readers see it. The same drawing serves the page, paper and whatever is frozen of it.
 *
 * @param heading the name of the student, as the view's own heading where it has one
 * @param log draws the log, where more of it is loaded later
 */
export function ReportSheet({
  report,
  studentId,
  heading,
  log,
}: {
  report: ReportDocument;
  studentId: string;
  heading: ReactNode;
  log?: (section: ReportSection) => ReactNode;
}) {
  usePrintedHead(report.head);
  return (
    <article className="report-sheet" lang={report.language}>
      <header className="report-title">
        {heading}
        <dl className="report-about">
          {report.facts.map(({ label, value }) => (
            <div key={label}>
              <dt>{label}</dt>
              <dd dir="auto">{value}</dd>
            </div>
          ))}
        </dl>
      </header>
      {report.sections.map((section) => (
        <Section key={section.name} section={section}>
          {section.name === "log" && log ? (
            log(section)
          ) : (
            <ReportBlocks
              studentId={studentId}
              blocks={section.blocks}
              language={report.language}
              {...layoutOf(section)}
            />
          )}
        </Section>
      ))}
    </article>
  );
}
