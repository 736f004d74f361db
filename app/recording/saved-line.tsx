import type { ReactNode } from "react";
import { Link } from "react-router";

/** What was just recorded, as it will read in the report, with its student and whether the server has it. */
export function SavedLine({
  name,
  studentId,
  words,
  state,
  children,
}: {
  name: string;
  studentId: string;
  words: string;
  state: string;
  /** What can be done with it. */
  children?: ReactNode;
}) {
  return (
    <article className="arrived -ml-3 mt-1.5 rounded-lg px-3 py-2">
      <p className="text-fine font-bold text-soft">
        {name}:{" "}
        <Link
          className="link inline-flex min-h-11 min-w-11 items-center"
          to={`/students/${studentId}/report`}
        >
          report
        </Link>
      </p>
      <p className="font-serif leading-relaxed" dir="auto">
        {words}
      </p>
      <p className="text-fine text-soft" role="status">
        {state}
      </p>
      {children}
    </article>
  );
}
