import { Link } from "react-router";
import { shortDateWithYear } from "#core/words/dates.ts";
import type { SentOut } from "#server/db/message-lists.ts";
import { sentOutWords } from "./sent-out-words.ts";
import { useArrivals } from "./arrivals.ts";
import { useKeys } from "./keys.ts";
import type { ReportLine } from "#core/report/report-lines.ts";

interface MarginProps {
  calledName: string;
  studentId: string;
  lines: readonly ReportLine[];
  savedId: string | null;
  /** What was last sent to the family. */
  sentOut?: SentOut | null;
}

/** On a narrow screen, what opens the margin; it says when a line has just arrived there. */
export function MarginLink({ count, more, arrived }: { count: number; more: boolean; arrived: boolean }) {
  return (
    <a href="#margin" className={`btn btn-plain margin-open ${arrived ? "bg-arrival" : ""}`}>
      Lines · {arrived ? "new" : `${count}${more ? "+" : ""}`}
    </a>
  );
}

function LineWords({ line }: { line: ReportLine }) {
  return (
    <>
      <span className="block text-[0.8rem] font-bold text-soft">
        {shortDateWithYear(line.on)} · {line.by}
      </span>
      <span className="mt-0.5 block font-serif text-[0.97rem] leading-snug">
        {line.sentence} {line.note}
        {line.revision > 1 ? <span className="text-fine text-soft"> (corrected)</span> : null}
      </span>
    </>
  );
}

/** The right-hand column with the latest lines of the student's report, newest first. On a narrow screen it is a drawer with a count. */
export function Margin({ calledName, studentId, lines, savedId, sentOut }: MarginProps) {
  const arrived = useArrivals(lines, savedId);
  useKeys({
    escape: () => {
      if (location.hash !== "#margin") return;
      location.hash = "page";
      document.querySelector<HTMLElement>(".margin-open")?.focus();
    },
  });
  const lineClass = ({ entryId }: ReportLine) => `report-line ${arrived.has(entryId) ? "arrived" : ""}`;
  return (
    <aside id="margin" className="margin" aria-label={`${calledName}’s report`}>
      <div className="mb-2 flex items-center justify-between gap-2 text-fine text-soft">
        <h2 className="font-bold">{calledName}’s report, as the team reads it</h2>
        <a href="#page" className="btn btn-plain btn-sm margin-close">
          Close
        </a>
      </div>
      {sentOut ? (
        <p className="mb-2 text-[0.8rem] text-soft">
          <Link className="link" to={`/students/${studentId}/editions#sent`}>
            {sentOutWords(sentOut)}
          </Link>
        </p>
      ) : null}
      {lines.length === 0 ? (
        <p className="mt-4 font-serif leading-relaxed text-soft">
          Nothing here yet. Your first saved entry will appear here as the team will read it.
        </p>
      ) : (
        <ol>
          {lines.map((line) => (
            <li key={line.entryId}>
              <Link to={`/students/${studentId}/${line.page}`} className={lineClass(line)}>
                <LineWords line={line} />
              </Link>
            </li>
          ))}
        </ol>
      )}
    </aside>
  );
}
