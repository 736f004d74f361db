import { type KeyboardEvent, type PointerEvent, type ReactNode, useState } from "react";
import { Link, useLocation } from "react-router";
import type { PatternPlan } from "#core/incidents/choose.ts";
import type { Bin, BinSize, Counted, Patterns } from "#core/incidents/patterns.ts";
import { dayNumber } from "#core/progress/day-number.ts";
import { weekdayName } from "#core/schedule/schedule.ts";
import { monthName, shortDate } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { binNames, binWords, observedWords, type PatternTable } from "./tables.ts";

/** The incidents behind a count: who they are of, and each by its day and time. */
export interface Behind {
  studentId: string;
  told: Readonly<Record<string, string>>;
}

export function Incidents({ ids, behind }: { ids: readonly string[]; behind: Behind }) {
  return (
    <ul className="flex flex-wrap gap-x-3 gap-y-1 py-1 text-fine">
      {ids.map((id) => (
        <li key={id}>
          <Link className="link" to={`/students/${behind.studentId}/incidents/${id}`}>
            {behind.told[id]}
          </Link>
        </li>
      ))}
    </ul>
  );
}

/** What stands in a fold only while it is open: a page of counts would otherwise carry each incident a dozen times. */
export function Opening({
  summary,
  children,
  className,
}: {
  summary: ReactNode;
  children: () => ReactNode;
  className?: string;
}) {
  const [open, setOpen] = useState(false);
  return (
    <details className={className} onToggle={(event) => setOpen(event.currentTarget.open)}>
      {summary}
      {open ? (
        children()
      ) : (
        <noscript>
          <Link className="link text-fine" to="../incidents" relative="path">
            All incidents
          </Link>
        </noscript>
      )}
    </details>
  );
}

/** A count that opens the incidents behind it. */
function Count({ ids, behind, children }: { ids: readonly string[]; behind: Behind; children: ReactNode }) {
  return ids.length === 0 ? (
    children
  ) : (
    <Opening summary={<summary className="cursor-pointer">{children}</summary>}>
      {() => <Incidents ids={ids} behind={behind} />}
    </Opening>
  );
}

/** The same numbers as a file. */
export function CsvLink({ table, title }: { table: string; title: string }) {
  const { pathname, search } = useLocation();
  const address = new URLSearchParams(search);
  address.set("table", table);
  return (
    <a className="link" href={`${pathname}.csv?${address.toString()}`} download>
      CSV<span className="sr-only"> of {title}</span>
    </a>
  );
}

function Table({
  title,
  table: { head, rows },
  behind,
}: {
  title: string;
  table: PatternTable;
  behind: Behind | undefined;
}) {
  return (
    <div className="relative overflow-x-auto" tabIndex={0} role="group" aria-label={`${title}: table`}>
      <table className="pair-table mt-1">
        <caption className="sr-only">{title}</caption>
        <thead>
          <tr>
            {head.map((one, at) => (
              <th key={`${one} ${at}`} scope="col">
                {one || <span className="sr-only">what</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ cells, incidentIds, opens }, row) => (
            <tr key={`${cells[0]} ${cells[1]} ${row}`}>
              {cells.map((cell, at) => {
                const ids = opens?.[at] ?? (incidentIds?.length === cell ? incidentIds : []);
                return (
                  <td key={head[at] ?? at} dir="auto">
                    {behind && cell !== "" ? (
                      <Count ids={ids} behind={behind}>
                        {cell}
                      </Count>
                    ) : (
                      cell
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The numbers of a picture as a table, and as a file. */
export function TableFold({
  name,
  title,
  table,
  behind,
  words = "As a table",
  open = false,
}: {
  /** Its name in an address. */
  name: string;
  title: string;
  /** Made when it is looked at. */
  table: () => PatternTable;
  /** Absent where nobody's incidents are opened. */
  behind?: Behind;
  /** What opens it. */
  words?: string;
  /** Shown at once, where there is no other picture. */
  open?: boolean;
}) {
  const shown = () => <Table title={title} table={table()} behind={behind} />;
  return (
    <div className="text-fine">
      {open ? shown() : null}
      <div className="no-print flex flex-wrap items-baseline gap-x-4">
        {open ? null : (
          <Opening
            className="min-w-0"
            summary={
              <summary className="min-h-8 cursor-pointer content-center text-soft">
                {words}
                <span className="sr-only">: {title}</span>
              </summary>
            }
          >
            {shown}
          </Opening>
        )}
        <span className="min-h-8 content-center">
          <CsvLink table={name} title={title} />
        </span>
      </div>
    </div>
  );
}

const [wide, high, above] = [720, 116, 34];

/**
 * Incidents along the time axis, every day, week or month in its place; the day a plan began is a line through it. Going over it
 * by pointer or by arrow keys says what each stretch holds and opens its incidents.
 */
export function TimePicture({
  bins,
  size,
  plans,
  behind,
}: {
  bins: readonly Bin[];
  size: BinSize;
  plans: readonly PatternPlan[];
  behind: Behind;
}) {
  const [chosen, setChosen] = useState<number | null>(null);
  const [first, last] = [bins.at(0), bins.at(-1)];
  if (!first || !last) return null;
  const [begin, end] = [dayNumber(first.from), dayNumber(last.to) + 1];
  const x = (date: string, after = 0) => (wide * (dayNumber(date) + after - begin)) / (end - begin);
  const top = Math.max(1, ...bins.map(({ incidentIds }) => incidentIds.length));
  const at = chosen === null ? null : Math.min(chosen, bins.length - 1);
  const bin = at === null ? null : bins[at];
  const words = (one: Bin) =>
    `${binWords(one, size)}: ${one.incidentIds.length} ${plural(one.incidentIds.length, "incident")} in ${observedWords(one.days)}`;
  const most = bins.reduce((best, one) => (one.incidentIds.length > best.incidentIds.length ? one : best));
  function move(event: KeyboardEvent) {
    const last = bins.length - 1;
    const to: Record<string, number> = {
      ArrowLeft: Math.max(0, (at ?? last + 1) - 1),
      ArrowRight: Math.min(last, (at ?? -1) + 1),
      Home: 0,
      End: last,
    };
    const next = to[event.key];
    if (next === undefined) return;
    event.preventDefault();
    setChosen(next);
  }
  function point(event: PointerEvent<HTMLDivElement>) {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const day = begin + ((event.clientX - left) / width) * (end - begin);
    const over = bins.findIndex(({ from, to }) => dayNumber(from) <= day && day < dayNumber(to) + 1);
    if (over >= 0) setChosen(over);
  }
  const within = plans.filter(({ beginsOn }) => first.from <= beginsOn && beginsOn <= last.to);
  return (
    <>
      <div
        role="slider"
        tabIndex={0}
        aria-label={`Incidents by ${binNames[size]}; most in: ${words(most)}`}
        aria-valuemin={1}
        aria-valuemax={bins.length}
        aria-valuenow={(at ?? 0) + 1}
        aria-valuetext={words(bin ?? first)}
        className="mt-2 max-w-3xl cursor-pointer rounded"
        onKeyDown={move}
        onPointerMove={(event) => {
          if (event.pointerType === "mouse") point(event);
        }}
        onPointerDown={point}
      >
        <svg viewBox={`0 0 ${wide} ${above + high + 20}`} className="w-full" aria-hidden="true">
          <g transform={`translate(0 ${above})`}>
            <line x1="0" x2={wide} y1={high} y2={high} className="stroke-base-300" />
            {bins.map((one, index) => {
              const { from, to, days, incidentIds } = one;
              const [left, width] = [x(from), x(to, 1) - x(from)];
              const tall = (incidentIds.length / top) * (high - 14);
              return (
                <g key={from}>
                  {index === at ? (
                    <rect x={left} y={0} width={width} height={high} className="fill-base-300" />
                  ) : null}
                  {incidentIds.length > 0 ? (
                    <rect
                      x={left + width * 0.15}
                      y={high - tall}
                      width={width * 0.7}
                      height={tall}
                      className="fill-data"
                    />
                  ) : days > 0 ? (
                    <circle
                      cx={left + width / 2}
                      cy={high - 2.5}
                      r={Math.min(2, width / 3)}
                      className="fill-soft"
                    />
                  ) : null}
                  {incidentIds.length > 0 && width > 9 ? (
                    <text
                      x={left + width / 2}
                      y={high - tall - 4}
                      textAnchor="middle"
                      className="fill-base-content text-[12px]"
                    >
                      {incidentIds.length}
                    </text>
                  ) : null}
                  {index % Math.ceil(bins.length / 8) === 0 ? (
                    <text x={left + 1} y={high + 16} className="fill-soft text-[12px]">
                      {size === "month" ? monthName(from) : shortDate(from).slice(4)}
                    </text>
                  ) : null}
                </g>
              );
            })}
          </g>
          {within.map(({ planId, name, beginsOn }, index) => {
            const near = x(beginsOn) > wide * 0.7;
            return (
              <g key={planId} className="stroke-base-content">
                <line
                  x1={x(beginsOn)}
                  x2={x(beginsOn)}
                  y1={4}
                  y2={above + high}
                  strokeWidth="1.5"
                  strokeDasharray="5 3"
                />
                <text
                  x={x(beginsOn) + (near ? -5 : 5)}
                  y={13 + 13 * (index % 2)}
                  textAnchor={near ? "end" : "start"}
                  className="fill-base-content stroke-none text-[12px] font-bold"
                >
                  {name}
                </text>
              </g>
            );
          })}
        </svg>
      </div>
      <div className="mt-2 min-h-14">
        {bin ? (
          <>
            <p className="text-fine font-bold">{words(bin)}</p>
            <Incidents ids={bin.incidentIds} behind={behind} />
          </>
        ) : (
          <p className="with-scripts text-fine text-soft">
            Point at a {binNames[size]}, or go over them with the arrow keys, to see its incidents. A dot is
            observed and without one; a gap is not observed.
          </p>
        )}
      </div>
    </>
  );
}

/** How deep a cell is drawn, 0 to 4, against the fullest one. */
export const depthOf = (count: number, top: number): number =>
  count === 0 ? 0 : Math.ceil((count / Math.max(1, top)) * 4);

/** The week as the school keeps it: how many incidents began in each period of each weekday, and on how many days it was watched. */
export function WeekPicture({ patterns, behind }: { patterns: Patterns; behind: Behind }) {
  const { grid, weekdays, outside } = patterns;
  const top = Math.max(...grid.flatMap(({ cells }) => cells.map((cell) => cell?.incidentIds.length ?? 0)));
  return (
    <>
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
                <th scope="row">
                  {name}{" "}
                  <span className="font-normal whitespace-nowrap text-soft">
                    {startsAt}–{endsAt}
                  </span>
                </th>
                {cells.map((cell, at) =>
                  cell === null ? (
                    <td key={weekdays[at]} aria-label="not on this day" />
                  ) : (
                    <td key={weekdays[at]} data-depth={depthOf(cell.incidentIds.length, top)}>
                      {cell.incidentIds.length === 0 ? (
                        <span className="text-soft">
                          <span className="sr-only">none in </span>
                          <span aria-hidden="true">·</span>
                          <span className="sr-only">{cell.watched} days</span>
                        </span>
                      ) : (
                        <Count ids={cell.incidentIds} behind={behind}>
                          <b>{cell.incidentIds.length}</b> <small>in {cell.watched} days</small>
                        </Count>
                      )}
                    </td>
                  ),
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
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

/** A bar as long as its share of the longest, 0 to 1. */
export function Bar({ share }: { share: number }) {
  return (
    <svg viewBox="0 0 100 4" preserveAspectRatio="none" className="mt-0.5 h-1.5 w-full" aria-hidden="true">
      <rect width={100 * share} height="4" className="fill-data" />
    </svg>
  );
}

/** Ranked bars with their counts; each opens the incidents behind it. */
export function Bars({
  title,
  said = "",
  counted,
  behind,
  words = (label) => label,
  children,
}: {
  title: string;
  /** Stands beside the title. */
  said?: string;
  counted: readonly Counted[];
  behind: Behind;
  words?: (label: string) => string;
  children: ReactNode;
}) {
  const top = Math.max(1, ...counted.map(({ incidentIds }) => incidentIds.length));
  return (
    <section aria-label={title} className="break-inside-avoid">
      <h3 className="font-serif text-lg font-semibold">
        {title} {said ? <span className="font-sans text-fine font-normal text-soft">{said}</span> : null}
      </h3>
      {counted.length === 0 ? <p className="text-soft">Nothing said.</p> : null}
      <ul className="mt-1">
        {counted.map(({ label, incidentIds }) => (
          <li key={label} className="border-b border-base-300 py-1">
            <Count ids={incidentIds} behind={behind}>
              <span dir="auto">{words(label)}</span> <b>{incidentIds.length}</b>
              <Bar share={incidentIds.length / top} />
            </Count>
          </li>
        ))}
      </ul>
      {children}
    </section>
  );
}
