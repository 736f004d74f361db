import type { ReactNode } from "react";
import { Form, useNavigation } from "react-router";
import type { EntryLine } from "#core/report/entry-line.ts";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { Removed } from "./line-page.tsx";

/** Takes a line out of the report and puts it back. Lines that can be corrected have a form of their own. */
export function TakenOut({
  said,
  removed,
  mayChange,
  correcting,
}: {
  said: EntryLine;
  /** `when` is `YYYY-MM-DD HH:MM`. */
  removed: { by: string; when: string } | null;
  mayChange: boolean;
  correcting?: ReactNode;
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <>
      <p
        className={`mt-2 font-serif text-xl leading-relaxed ${removed ? "text-soft line-through" : ""}`}
        dir="auto"
      >
        {said.sentence} {said.note}
      </p>
      {removed ? (
        <Removed mayChange={mayChange} busy={busy}>
          Removed by {removed.by}, {dateWithYear(removed.when.slice(0, 10))},{" "}
          {timeOfDay(removed.when.slice(11))}. It is not in the report.
        </Removed>
      ) : mayChange ? (
        (correcting ?? (
          <Form method="post" className="mt-4">
            <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
              Remove from the report
            </button>
          </Form>
        ))
      ) : null}
    </>
  );
}
