import { Link } from "react-router";
import type { RatersTable } from "#core/report/document.ts";
import type { OpenGoal } from "./open-goal.server.ts";
import { RatersColumns } from "#app/report/raters-table.tsx";

/** Several raters of a goal's rubric, and the student's own scorings, each with its page. */
function Raters({
  table,
  own,
  studentId,
}: {
  table: RatersTable | null;
  own: readonly { observationId: string; said: string }[];
  studentId: string;
}) {
  return (
    <section aria-label="Raters" className="mt-4 font-sans text-[0.9375rem] [&_caption]:sr-only">
      <h2 className="font-serif text-[1.15rem] font-semibold">Raters</h2>
      {table ? <RatersColumns table={table} /> : null}
      {own.length > 0 ? (
        <p className="mt-1">
          The student’s own ratings, not counted for the goal:{" "}
          {own.map(({ observationId, said }, at) => (
            <span key={observationId}>
              {at > 0 ? "; " : ""}
              <Link className="link" to={`/students/${studentId}/beside/${observationId}`}>
                {said}
              </Link>
            </span>
          ))}
          .
        </p>
      ) : null}
    </section>
  );
}

/** What several people gave or saw: raters of a rubric, and second observers with how far they agree. */
export default function SeveralPeople({
  raters,
  agreement,
  studentId,
}: Pick<OpenGoal, "raters" | "agreement"> & { studentId: string }) {
  return (
    <>
      {raters ? <Raters {...raters} studentId={studentId} /> : null}
      {agreement.length > 0 ? (
        <section aria-label="Two observers" className="mt-4">
          <h2 className="font-serif text-[1.15rem] font-semibold">Two observers</h2>
          <ul>
            {agreement.map(({ observationId, date, who, said }) => (
              <li
                key={observationId}
                className="flex flex-wrap gap-x-4 border-t border-base-300 py-1.5 text-[0.9375rem]"
              >
                <Link className="link min-w-24" to={`/students/${studentId}/beside/${observationId}`}>
                  {date}
                </Link>
                <span className="min-w-40">{who}</span>
                <span>{said}</span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </>
  );
}
