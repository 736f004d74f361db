import { longDate, wholeDate } from "#core/words/dates.ts";

/** A day with its weekday; on paper, which is read later, with the year too. */
export function DayWords({ on }: { on: string }) {
  return (
    <>
      <span className="screen-only">{longDate(on)}</span>
      <span className="print-only">{wholeDate(on)}</span>
    </>
  );
}
