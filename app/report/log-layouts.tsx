import type { ReportSection } from "#core/report/document.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import type { Part } from "./log-parts.ts";

/** The lines of a day or a goal as one paragraph: for readers who do not look lines up. */
export function LogParagraph({ heading, lines }: { heading: string; lines: readonly ReportLine[] }) {
  return (
    <div className="report-day">
      {heading ? <h3>{heading}</h3> : <span className="max-sm:hidden" />}
      <p className="leading-relaxed" dir="auto">
        {lines.map(({ entryId, sentence, note, by }) => (
          <span key={entryId}>
            {sentence} {note} <span className="report-by">{by}</span>{" "}
          </span>
        ))}
      </p>
    </div>
  );
}

/** The lines of a log as a table. */
export function LogTable({
  parts,
  columns,
}: {
  parts: readonly Part[];
  columns: NonNullable<ReportSection["columns"]>;
}) {
  const rows = parts.flatMap((part) =>
    part.kind === "lines" ? part.lines.map((line) => ({ heading: part.heading, line })) : [],
  );
  if (rows.length === 0)
    return parts.map((part) =>
      part.kind === "sentence" ? (
        <p key={part.text} className="mt-1.5 leading-relaxed">
          {part.text}
        </p>
      ) : null,
    );
  const hasNotes = rows.some(({ line }) => line.note);
  const hasBy = rows.some(({ line }) => line.by);
  return (
    <div className="overflow-x-auto" role="group" aria-label={columns.result} tabIndex={0}>
      <table className="report-table">
        <thead>
          <tr>
            <th scope="col">{columns.on}</th>
            <th scope="col">{columns.result}</th>
            {hasNotes ? <th scope="col">{columns.note}</th> : null}
            {hasBy ? <th scope="col">{columns.by}</th> : null}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ heading, line: { entryId, sentence, note, by } }, at) => (
            <tr key={entryId}>
              <th scope="row">
                {rows[at - 1]?.heading === heading ? <span className="sr-only">{heading}</span> : heading}
              </th>
              <td dir="auto">{sentence}</td>
              {hasNotes ? <td dir="auto">{note}</td> : null}
              {hasBy ? <td>{by}</td> : null}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
