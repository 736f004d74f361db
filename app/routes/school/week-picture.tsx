import { timeOfDay, timeSpan } from "#core/words/dates.ts";
import { weekdayName } from "#core/dates/week.ts";
import type { TimetableSlot } from "#core/schedule/timetable.ts";

const minutesOf = (time: string) => 60 * Number(time.slice(0, 2)) + Number(time.slice(3));
const [column, label, head, scale] = [86, 54, 20, 1.25];
const lineHeight = 13;

/** A week as it passes: one column a day, every period as long as it lasts. */
export function WeekPicture({
  slots,
  weekdays: days,
}: {
  slots: readonly TimetableSlot[];
  weekdays: readonly number[];
}) {
  const first = Math.min(...slots.map(({ startsAt }) => minutesOf(startsAt)));
  const last = Math.max(...slots.map(({ endsAt }) => minutesOf(endsAt)));
  const y = (minutes: number) => head + (minutes - first) * scale;
  const [width, height] = [label + days.length * column, y(last) + 2];
  const hours = Array.from(
    { length: Math.floor(last / 60) - Math.ceil(first / 60) + 1 },
    (_, index) => Math.ceil(first / 60) + index,
  );
  return (
    <figure className="min-w-0 overflow-x-auto">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width={width}
        height={height}
        className="h-auto max-w-full"
        role="img"
        aria-label={days
          .map(
            (day) =>
              `${weekdayName(day)}: ${
                slots
                  .filter(({ weekday }) => weekday === day)
                  .map(({ name, startsAt, endsAt }) => `${name} ${timeSpan(startsAt, endsAt)}`)
                  .join(", ") || "nothing"
              }`,
          )
          .join(". ")}
      >
        {hours.map((hour) => (
          <g key={hour}>
            <line x1={label} x2={width} y1={y(60 * hour)} y2={y(60 * hour)} className="stroke-base-300" />
            <text x="0" y={y(60 * hour) + 4} className="fill-soft text-[11px]">
              {timeOfDay(`${String(hour).padStart(2, "0")}:00`)}
            </text>
          </g>
        ))}
        {days.map((day, index) => {
          const x = label + index * column;
          return (
            <g key={day}>
              <text x={x + 2} y="12" className="fill-base-content text-[12px] font-bold">
                {weekdayName(day).slice(0, 3)}
              </text>
              {slots
                .filter(({ weekday }) => weekday === day)
                .map(({ name, startsAt, endsAt }) => {
                  const [top, bottom] = [y(minutesOf(startsAt)), y(minutesOf(endsAt))];
                  const fits = bottom - top >= lineHeight;
                  return (
                    <g key={`${startsAt} ${name}`}>
                      <title>{`${weekdayName(day)} ${timeSpan(startsAt, endsAt)}: ${name}`}</title>
                      <rect
                        x={x + 1}
                        y={top + 0.5}
                        width={column - 4}
                        height={Math.max(3, bottom - top - 1)}
                        rx="3"
                        className="fill-base-200 stroke-base-300"
                      />
                      {fits ? (
                        <text x={x + 6} y={top + 11} className="fill-base-content text-[10.5px]">
                          {name.length > 14 ? `${name.slice(0, 13)}…` : name}
                        </text>
                      ) : null}
                      {bottom - top >= 2 * lineHeight + 2 ? (
                        <text x={x + 6} y={top + 23} className="fill-soft text-[10px]">
                          {timeSpan(startsAt, endsAt)}
                        </text>
                      ) : null}
                    </g>
                  );
                })}
            </g>
          );
        })}
      </svg>
    </figure>
  );
}
