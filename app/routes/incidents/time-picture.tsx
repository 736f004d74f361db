import { type KeyboardEvent, type PointerEvent, useState } from "react";
import type { PatternPlan } from "#core/incidents/choose.ts";
import type { Bin, BinSize } from "#core/incidents/patterns.ts";
import { dayNumber } from "#core/dates/day-number.ts";
import { monthDay, monthName } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { type Behind, Incidents } from "./pictures.tsx";
import { binNames, binWords, observedWords } from "./tables.ts";

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
                      {size === "month" ? monthName(from) : monthDay(from)}
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
            <span className="screen-only">
              Point at a {binNames[size]}, or use the arrow keys, to see its incidents.{" "}
            </span>
            Dot: observed, none recorded. Gap: not observed.
          </p>
        )}
      </div>
    </>
  );
}
