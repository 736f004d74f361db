import {
  daysInSession,
  reportingPeriodOn,
  type SchoolCalendar,
  whyNoSchool,
} from "#core/schedule/calendar.ts";
import type { DateSpan } from "#core/dates/date-span.ts";
import { dateOfDay, dayNumber, weekdayOf } from "#core/dates/day-number.ts";
import { longDate, monthName } from "#core/words/dates.ts";

interface PicturedDay {
  /** 1 … 31, its column. */
  day: number;
  kind: "session" | "closed" | "free";
  today: boolean;
  monday: boolean;
  /** Which reporting period, counted from 0. */
  period: number | null;
  said: string;
}

/** A school year, one line a month: which days are in session, and to which reporting period they belong. */
export interface Picture {
  months: { name: string; days: PicturedDay[] }[];
  periods: { name: string; days: number }[];
}

export function yearPicture(calendar: SchoolCalendar, year: DateSpan, today: string): Picture {
  const periods = calendar.reportingPeriods.filter(
    ({ fromOn }) => year.fromOn <= fromOn && fromOn <= year.toOn,
  );
  const months: Picture["months"] = [];
  let month = "";
  for (let day = dayNumber(year.fromOn); day <= dayNumber(year.toOn); day += 1) {
    const date = dateOfDay(day);
    if (date.slice(0, 7) !== month) {
      month = date.slice(0, 7);
      months.push({ name: monthName(date), days: [] });
    }
    const why = whyNoSchool(calendar, date);
    const weekend = !calendar.schoolDays.includes(weekdayOf(date));
    const period = periods.findIndex(({ name }) => name === reportingPeriodOn(calendar, date)?.name);
    months.at(-1)?.days.push({
      day: Number(date.slice(8)),
      kind: why === null ? "session" : weekend ? "free" : "closed",
      today: date === today,
      monday: weekdayOf(date) === 1,
      period: period < 0 ? null : period,
      said: [longDate(date), why, period < 0 ? null : periods[period]?.name].filter(Boolean).join(", "),
    });
  }
  return {
    months,
    periods: periods.map(({ name, fromOn, toOn }) => ({
      name,
      days: daysInSession(calendar, fromOn, toOn).length,
    })),
  };
}

const [cell, line, label] = [16, 27, 34];

export function YearPicture({ picture: { months, periods } }: { picture: Picture }) {
  const [width, height] = [label + 31 * cell, months.length * line];
  return (
    <>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        className="h-auto max-w-full"
        role="img"
        aria-label={`The days of the year in session, month by month. ${periods
          .map(({ name, days }) => `${name}: ${days} days`)
          .join("; ")}`}
      >
        {months.map((month, row) => (
          <g key={row} transform={`translate(0 ${row * line})`}>
            <text x="0" y="14" className="fill-base-content text-[12px] font-bold">
              {month.name}
            </text>
            {month.days.map(({ day, kind, today, monday, period, said }) => {
              const x = label + (day - 1) * cell;
              return (
                <g key={day}>
                  <title>{said}</title>
                  {monday && day > 1 ? (
                    <line x1={x - 0.5} x2={x - 0.5} y1="2" y2="19" className="stroke-base-300" />
                  ) : null}
                  {kind === "session" ? (
                    <rect
                      x={x + 1.5}
                      y="4"
                      width={cell - 3}
                      height="13"
                      rx="3"
                      className={today ? "fill-primary" : "fill-data-pale"}
                    />
                  ) : kind === "closed" ? (
                    <path
                      d={`M${x + 3.5} 15.5 L${x + cell - 3.5} 5.5`}
                      className="stroke-soft"
                      strokeWidth="1.2"
                    />
                  ) : null}
                  {kind === "session" ? (
                    <text
                      x={x + cell / 2}
                      y="13.7"
                      textAnchor="middle"
                      className={`text-[9px] ${today ? "fill-primary-content" : "fill-base-content"}`}
                    >
                      {day}
                    </text>
                  ) : null}
                  {period === null ? null : (
                    <rect
                      x={x}
                      y="19.5"
                      width={cell}
                      height="2.5"
                      className={period % 2 === 0 ? "fill-base-content" : "fill-soft/50"}
                    />
                  )}
                </g>
              );
            })}
          </g>
        ))}
      </svg>
      {periods.length > 0 ? (
        <ul className="mt-2 flex flex-wrap gap-x-5 text-fine">
          {periods.map(({ name, days }, index) => (
            <li key={name} className="flex items-center gap-1.5">
              <svg width="18" height="3" aria-hidden="true">
                <rect
                  width="18"
                  height="3"
                  className={index % 2 === 0 ? "fill-base-content" : "fill-soft/50"}
                />
              </svg>
              {name}: {days} days
            </li>
          ))}
        </ul>
      ) : null}
    </>
  );
}
