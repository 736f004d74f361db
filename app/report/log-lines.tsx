import { Link } from "react-router";
import type { ReportLine } from "#core/report/report-lines.ts";

function Line({
  line: { sentence, note, by, revision, page, pictures = [], link, teamOnly },
  studentId,
  arrived,
}: {
  line: ReportLine;
  studentId: string;
  arrived: boolean;
}) {
  return (
    <li className={`report-entry ${arrived ? "arrived" : ""}`}>
      <span dir="auto">
        {sentence} {note}
      </span>{" "}
      {link ? (
        <>
          <a className="link" href={link.url} rel="noopener noreferrer" target="_blank" dir="auto">
            {link.words}
            <span className="sr-only"> (opens in a new tab)</span>
          </a>{" "}
        </>
      ) : null}
      {pictures.map(({ pictureId, words, isHere }) => (
        <span key={pictureId} className="report-by" dir="auto">
          {isHere ? (
            <a className="link" href={`/students/${studentId}/pictures/${pictureId}`}>
              {words}
            </a>
          ) : (
            words
          )}{" "}
        </span>
      ))}
      <span className="report-by">
        {by}
        {teamOnly ? " · team only" : ""}
        {revision > 1 ? " · " : ""}
        {revision > 1 ? (
          <Link className="link" to={`/students/${studentId}/${page}`}>
            corrected<span className="screen-only">, see history</span>
          </Link>
        ) : null}
      </span>
    </li>
  );
}

/** Lines of a report under their heading; where the lines above end under the same one, it is not repeated. */
export function LogLines({
  heading,
  lines,
  studentId,
  arrived,
}: {
  heading: string | null;
  lines: readonly ReportLine[];
  studentId: string;
  arrived?: ReadonlySet<string> | undefined;
}) {
  return (
    <div className="report-day">
      {heading === null ? <span className="max-sm:hidden" /> : <h3>{heading}</h3>}
      <ol>
        {lines.map((line) => (
          <Line key={line.entryId} {...{ line, studentId }} arrived={arrived?.has(line.entryId) ?? false} />
        ))}
      </ol>
    </div>
  );
}
