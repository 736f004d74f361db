import { timeSpan } from "#core/words/dates.ts";
import type { ReactNode } from "react";
import type { Patterns } from "#core/incidents/patterns.ts";
import { weekdayName } from "#core/dates/week.ts";
import { plural } from "#core/words/numbers.ts";
import { type Behind, Count } from "./pictures.tsx";

/** How deep a cell is drawn, 0 to 4, against the fullest one. */
const depthOf = (count: number, top: number): number =>
  count === 0 ? 0 : Math.ceil((count / Math.max(1, top)) * 4);

/** The week as the school keeps it: a row for each period, a column for each weekday. */
export function WeekGrid<Cell>({
  grid,
  weekdays,
  countOf,
  children,
}: {
  /** A cell is null where the period does not meet on the day. */
  grid: readonly { name: string; startsAt: string; endsAt: string; cells: readonly (Cell | null)[] }[];
  weekdays: readonly number[];
  countOf: (cell: Cell) => number;
  /** What stands in a cell. */
  children: (cell: Cell) => ReactNode;
}) {
  const top = Math.max(...grid.flatMap(({ cells }) => cells.map((cell) => (cell ? countOf(cell) : 0))));
  return (
    <div className="relative overflow-x-auto" tabIndex={0} role="group" aria-label="The week">
      <table className="week-grid mt-2">
        <thead>
          <tr>
            <th scope="col">Period</th>
            {weekdays.map((weekday) => (
              <th key={weekday} scope="col">
                {weekdayName(weekday).slice(0, 3)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {grid.map(({ name, startsAt, endsAt, cells }) => (
            <tr key={`${name} ${startsAt}`}>
              <th scope="row" dir="auto">
                {name}{" "}
                <span className="font-normal whitespace-nowrap text-soft">{timeSpan(startsAt, endsAt)}</span>
              </th>
              {cells.map((cell, at) =>
                cell === null ? (
                  <td key={weekdays[at]} aria-label="not on this day" />
                ) : (
                  <td key={weekdays[at]} data-depth={depthOf(countOf(cell), top)}>
                    {children(cell)}
                  </td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How many incidents of a student began in each period of each weekday, and on how many days it was watched. */
export function IncidentWeek({ patterns, behind }: { patterns: Patterns; behind: Behind }) {
  const { grid, weekdays, outside } = patterns;
  return (
    <>
      <WeekGrid grid={grid} weekdays={weekdays} countOf={({ incidentIds }) => incidentIds.length}>
        {({ incidentIds, watched }) =>
          incidentIds.length === 0 ? (
            <span className="text-soft">
              <span className="sr-only">none in </span>
              <span aria-hidden="true">·</span>
              <span className="sr-only">{watched} days</span>
            </span>
          ) : (
            <Count ids={incidentIds} behind={behind}>
              <b>{incidentIds.length}</b> <small>in {watched} days</small>
            </Count>
          )
        }
      </WeekGrid>
      {outside.length > 0 ? (
        <div className="mt-1 text-fine text-soft">
          <Count ids={outside} behind={behind}>
            {outside.length} {plural(outside.length, "incident")} without a time, or between the periods.
          </Count>
        </div>
      ) : null}
    </>
  );
}
