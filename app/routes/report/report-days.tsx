import { Link } from "react-router";
import { groupBy } from "#core/lists/group-by.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import { longDate } from "#core/words/dates.ts";

/** Lines of a report under their days. Where the first day stands above already (`after`), it is not named again. */
export function ReportDays({
  studentId,
  lines,
  after = null,
  arrived,
}: {
  studentId: string;
  lines: readonly ReportLine[];
  after?: string | null;
  arrived?: ReadonlySet<string>;
}) {
  return [...groupBy(lines, (line) => line.on)].map(([day, ofDay]) => (
    <div key={day} className="mb-4 grid grid-cols-[8.5rem_1fr] gap-x-4 max-sm:grid-cols-1">
      {day === after ? (
        <span className="max-sm:hidden" />
      ) : (
        <h2 className="pt-2 font-sans text-fine font-bold text-soft">{longDate(day)}</h2>
      )}
      <ol>
        {ofDay.map((line) => (
          <li
            key={line.entryId}
            className={`-mx-3 rounded-lg px-3 py-1.5 ${arrived?.has(line.entryId) ? "arrived" : ""}`}
          >
            <p className="leading-relaxed">
              {line.sentence} {line.note}
            </p>
            <p className="font-sans text-fine text-soft">
              {[line.time, line.author].filter(Boolean).join(" · ")}
              {line.revision > 1 ? " · " : ""}
              {line.revision > 1 ? (
                <Link className="link" to={`/students/${studentId}/${line.page}`}>
                  corrected, see history
                </Link>
              ) : null}
            </p>
          </li>
        ))}
      </ol>
    </div>
  ));
}
