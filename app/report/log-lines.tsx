import { Link } from "react-router";
import type { Language } from "#core/words/en.ts";
import { lineMarks } from "#core/report/line-marks.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import { useReportPaths } from "./report-paths.ts";

function Line({
  line: { sentence, note, by, revision, page, pictures = [], link, teamOnly, noteForTeam },
  studentId,
  arrived,
  language,
}: {
  line: ReportLine;
  studentId: string;
  arrived: boolean;
  language: Language;
}) {
  const says = lineMarks[language];
  const paths = useReportPaths();
  const history = paths.page(studentId, page);
  return (
    <li className={`report-entry ${arrived ? "arrived" : ""}`}>
      <span dir="auto">
        {sentence} {note}
      </span>{" "}
      {link ? (
        <>
          <a className="link" href={link.url} rel="noopener noreferrer" target="_blank" dir="auto">
            {link.words}
            <span className="sr-only"> ({says.newTab})</span>
          </a>{" "}
        </>
      ) : null}
      {pictures.map(({ pictureId, words, isHere }) => (
        <span key={pictureId} className="report-by" dir="auto">
          {isHere && !paths.isFile ? (
            <a className="link" href={paths.picture(studentId, pictureId)}>
              {words}
            </a>
          ) : (
            words
          )}{" "}
        </span>
      ))}
      <span className="report-by">
        {by}
        {teamOnly ? ` · ${says.teamOnly}` : ""}
        {noteForTeam ? ` · ${says.noteForTeam}` : ""}
        {revision > 1 ? " · " : ""}
        {revision > 1 && history === null ? says.corrected : null}
        {revision > 1 && history !== null ? (
          <Link className="link" to={history}>
            {says.corrected}
            <span className="screen-only">, {says.seeHistory}</span>
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
  language = "en",
}: {
  heading: string | null;
  lines: readonly ReportLine[];
  studentId: string;
  arrived?: ReadonlySet<string> | undefined;
  language?: Language | undefined;
}) {
  return (
    <div className="report-day">
      {heading === null ? <span className="max-sm:hidden" /> : <h3>{heading}</h3>}
      <ol>
        {lines.map((line) => (
          <Line
            key={line.entryId}
            {...{ line, studentId, language }}
            arrived={arrived?.has(line.entryId) ?? false}
          />
        ))}
      </ol>
    </div>
  );
}
