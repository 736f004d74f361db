import { Link } from "react-router";
import type { RatersTable } from "#core/report/document.ts";
import { RatersColumns } from "#app/report/raters-table.tsx";

/** Several raters of a goal's rubric, and the student's own scorings, each with its page. */
export function Raters({
  table,
  own,
  studentId,
}: {
  table: RatersTable | null;
  own: readonly { observationId: string; said: string }[];
  studentId: string;
}) {
  return (
    <section aria-label="Raters" className="mt-4 font-sans text-[0.9375rem]">
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
