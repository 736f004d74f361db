import { Form, Link, useSubmit } from "react-router";
import { type Aspect, labelsOf } from "#core/incidents/incident.ts";
import { observedDays } from "#core/incidents/observed-days.ts";
import { type Counted, type Patterns, patternsOf } from "#core/incidents/patterns.ts";
import type { Rate } from "#core/incidents/rate.ts";
import { schoolYearOn } from "#core/schedule/calendar.ts";
import { weekdayName } from "#core/schedule/schedule.ts";
import { dateOfDay, dayNumber } from "#core/progress/day-number.ts";
import { dateWithYear, shortDate } from "#core/words/dates.ts";
import { capitalise, plural } from "#core/words/numbers.ts";
import { enter } from "#server/access/enter.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { readIncidentSettings } from "#server/db/incident-settings.ts";
import { listPatternIncidents } from "#server/db/incidents.ts";
import { schoolNow } from "#server/db/school-time.ts";
import { listAbsences } from "#server/db/students.ts";
import { listWatched } from "#server/db/watched-days.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import type { Route } from "./+types/patterns";

const spans = [
  ["", "this school year"],
  ["28", "the last 4 weeks"],
  ["56", "the last 8 weeks"],
] as const;

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  const search = new URL(request.url).searchParams;
  return enter(request, context, "incident.read", studentId, async (visit) => {
    const calendar = await readCalendar(visit);
    const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
    const year = schoolYearOn(calendar, today)?.fromOn ?? dateOfDay(dayNumber(today) - 364);
    const length = spans.find(([days]) => days !== "" && days === search.get("days"))?.[0];
    const from = length ? dateOfDay(dayNumber(today) - Number(length) + 1) : year;
    const all = await listPatternIncidents(visit, studentId, { from, to: today });
    const wanted = search.get("behavior") ?? "";
    const behavior = all.some(({ behaviors }) => behaviors.includes(wanted)) ? wanted : "";
    const incidents = behavior === "" ? all : all.filter((one) => labelsOf(one, "behavior").has(behavior));
    const said = await listWatched(visit, studentId, from);
    const whole = said.filter(({ period }) => period === "");
    const { days, silent } = observedDays(
      calendar,
      { from, to: today },
      {
        absences: await listAbsences(visit, studentId),
        notObserved: whole.flatMap(({ on, state }) => (state === "not observed" ? [on] : [])),
        none: whole.flatMap(({ on, state }) => (state === "none" ? [on] : [])),
      },
      new Set(all.map(({ on }) => on)),
    );
    const { bands, strengths } = await readIncidentSettings(visit);
    return {
      patterns: patternsOf({
        ...{ incidents, days, silent, from, to: today, bands },
        periods: await readTimetable(visit),
      }),
      told: Object.fromEntries(
        incidents.map(({ incidentId, on, at, period }) => [
          incidentId,
          `${shortDate(on)} ${at ?? period ?? ""}`.trim(),
        ]),
      ),
      strengths: [...strengths],
      behaviors: [...new Set(all.flatMap((one) => one.behaviors))].sort(),
      days: length ?? "",
      behavior,
    };
  });
}

type Told = Record<string, string>;

/** The incidents behind a count, each by its day and time. */
function Behind({ ids, told, studentId }: { ids: readonly string[]; told: Told; studentId: string }) {
  return (
    <ul className="flex flex-wrap gap-x-3 gap-y-1 py-1 text-fine">
      {ids.map((id) => (
        <li key={id}>
          <Link className="link" to={`/students/${studentId}/incidents/${id}`}>
            {told[id]}
          </Link>
        </li>
      ))}
    </ul>
  );
}

const rateWords = ({ perDay, low, high, widened, incidents, days }: Rate) =>
  `${incidents} ${plural(incidents, "incident")} in ${days} observed school days: ${perDay.toFixed(2)} a day (95 % interval ${low.toFixed(2)} to ${high.toFixed(2)}${widened ? ", widened because bad days cluster" : ""})`;

/** Bars by week, every week in its place, with the days observed in each. */
function Weeks({ weeks }: { weeks: Patterns["weeks"] }) {
  const top = Math.max(1, ...weeks.map(({ incidentIds }) => incidentIds.length));
  const [wide, high] = [720, 130];
  const step = wide / Math.max(1, weeks.length);
  return (
    <svg
      viewBox={`0 0 ${wide} ${high + 22}`}
      className="mt-2 w-full max-w-3xl"
      role="img"
      aria-label={`Incidents by week, ${weeks.length} weeks; the numbers stand in the table below.`}
    >
      <line x1="0" x2={wide} y1={high} y2={high} className="stroke-base-300" />
      {weeks.map(({ monday, incidentIds, days }, index) => {
        const tall = (incidentIds.length / top) * (high - 20);
        return (
          <g key={monday}>
            {days === 0 ? null : (
              <rect
                x={index * step + step * 0.15}
                y={high - tall}
                width={step * 0.7}
                height={Math.max(tall, 1)}
                className="fill-data"
              />
            )}
            {incidentIds.length > 0 ? (
              <text
                x={index * step + step / 2}
                y={high - tall - 4}
                textAnchor="middle"
                className="fill-base-content text-[12px]"
              >
                {incidentIds.length}
              </text>
            ) : null}
            {index % Math.ceil(weeks.length / 8) === 0 ? (
              <text x={index * step + step * 0.15} y={high + 16} className="fill-soft text-[12px]">
                {shortDate(monday).slice(4)}
              </text>
            ) : null}
          </g>
        );
      })}
    </svg>
  );
}

/** The week as the school keeps it: how many incidents began in each period of each weekday, and on how many days it was watched. */
function Grid({ patterns, told, studentId }: { patterns: Patterns; told: Told; studentId: string }) {
  const { grid, weekdays, outside } = patterns;
  const top = Math.max(1, ...grid.flatMap(({ cells }) => cells.map((cell) => cell?.incidentIds.length ?? 0)));
  const depth = (count: number) => (count === 0 ? 0 : Math.ceil((count / top) * 4));
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
                    <td key={weekdays[at]} data-depth={depth(cell.incidentIds.length)}>
                      {cell.incidentIds.length === 0 ? (
                        <span className="text-soft">
                          <span className="sr-only">none in </span>
                          <span aria-hidden="true">·</span>
                          <span className="sr-only">{cell.watched} days</span>
                        </span>
                      ) : (
                        <details>
                          <summary>
                            <b>{cell.incidentIds.length}</b> <small>in {cell.watched} days</small>
                          </summary>
                          <Behind ids={cell.incidentIds} told={told} studentId={studentId} />
                        </details>
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
        <p className="mt-1 text-fine text-soft">
          {outside.length} {plural(outside.length, "incident")} without a time, or between the periods.
        </p>
      ) : null}
    </>
  );
}

/** Ranked bars with their counts; each opens the incidents behind it. */
function Bars({
  title,
  counted,
  told,
  studentId,
  words = (label) => label,
}: {
  title: string;
  counted: readonly Counted[];
  told: Told;
  studentId: string;
  words?: (label: string) => string;
}) {
  const top = Math.max(1, ...counted.map(({ incidentIds }) => incidentIds.length));
  return (
    <section aria-label={title} className="break-inside-avoid">
      <h3 className="font-serif text-lg font-semibold">{title}</h3>
      {counted.length === 0 ? <p className="text-soft">Nothing said.</p> : null}
      <ul className="mt-1">
        {counted.map(({ label, incidentIds }) => (
          <li key={label} className="border-b border-base-300 py-1">
            <details>
              <summary className="cursor-pointer">
                <span dir="auto">{words(label)}</span> <b>{incidentIds.length}</b>
                <svg
                  viewBox="0 0 100 4"
                  preserveAspectRatio="none"
                  className="mt-0.5 h-1.5 w-full"
                  aria-hidden="true"
                >
                  <rect width={(100 * incidentIds.length) / top} height="4" className="fill-data" />
                </svg>
              </summary>
              <Behind ids={incidentIds} told={told} studentId={studentId} />
            </details>
          </li>
        ))}
      </ul>
    </section>
  );
}

const aspectTitles: readonly (readonly [Aspect, string])[] = [
  ["setting", "Where"],
  ["antecedent", "Just before"],
  ["behavior", "What was done"],
  ["consequence", "Right after"],
  ["function", "Why, as people thought then"],
];

function Pairs({ patterns }: { patterns: Patterns }) {
  const { pairs, chains, n } = patterns;
  return (
    <>
      {pairs.length === 0 ? (
        <p className="text-soft">
          No pair of labels goes together more or less often than chance would have it.
        </p>
      ) : (
        <div className="relative overflow-x-auto" tabIndex={0} role="group" aria-label="Pairs">
          <table className="pair-table mt-2">
            <caption className="sr-only">Pairs of labels with their counts, phi and adjusted p</caption>
            <thead>
              <tr>
                <th scope="col">One</th>
                <th scope="col">and</th>
                <th scope="col">both</th>
                <th scope="col">first only</th>
                <th scope="col">second only</th>
                <th scope="col">neither</th>
                <th scope="col">phi</th>
                <th scope="col">adjusted p</th>
              </tr>
            </thead>
            <tbody>
              {pairs.map(({ kind, a, b, both, aOnly, bOnly, neither, phi, adjustedP }) => (
                <tr key={`${kind} ${a} ${b}`}>
                  <td dir="auto">{a}</td>
                  <td dir="auto">{b}</td>
                  <td>
                    {both} of {n}
                  </td>
                  <td>{aOnly}</td>
                  <td>{bOnly}</td>
                  <td>{neither}</td>
                  <td>{phi === null ? "–" : phi.toFixed(2)}</td>
                  <td>{adjustedP < 0.001 ? "< 0.001" : adjustedP.toFixed(3)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {chains.length > 0 ? (
        <>
          <h3 className="mt-4 font-serif text-lg font-semibold">Chains seen most often</h3>
          <ol className="mt-1">
            {chains.map(({ antecedent, behavior, consequence, count }) => (
              <li
                key={`${antecedent} ${behavior} ${consequence}`}
                className="border-b border-base-300 py-1.5"
                dir="auto"
              >
                {antecedent} <span aria-hidden="true">→</span>
                <span className="sr-only">, then</span> {behavior} <span aria-hidden="true">→</span>
                <span className="sr-only">, then</span> {consequence}: <b>{count}</b>
              </li>
            ))}
          </ol>
        </>
      ) : null}
    </>
  );
}

const lengthWords = ({ low, high }: { low: number; high: number | null }) =>
  high === null
    ? `at least ${Math.round(low)} min in all`
    : low === high
      ? `${Math.round(low)} min in all`
      : `between ${Math.round(low)} and ${Math.round(high)} min in all`;

/** What the incidents of a student have in common: said in sentences first, then counted. */
export default function PatternsPage({ loaderData, params: { studentId } }: Route.ComponentProps) {
  const { patterns, told, strengths, behaviors, days, behavior } = loaderData;
  const submit = useSubmit();
  const { n, rate, silent, weeks, labels, lengths, findings } = patterns;
  return (
    <section aria-labelledby="patterns" className="py-5">
      <div className="flex flex-wrap items-end gap-3">
        <h2 id="patterns" className="font-serif text-xl font-semibold">
          Patterns
        </h2>
        <Form
          className="no-print ml-auto flex flex-wrap items-end gap-2"
          onChange={(event) => void submit(event.currentTarget)}
        >
          <select className="select w-52" name="days" defaultValue={days} aria-label="Span">
            {spans.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
          <select className="select w-52" name="behavior" defaultValue={behavior} aria-label="Behavior">
            <option value="">every behavior</option>
            {behaviors.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
          <noscript>
            <button className="btn btn-plain">Show</button>
          </noscript>
          <Link className="btn btn-plain" to={`/students/${studentId}/incidents`}>
            Incidents
          </Link>
        </Form>
      </div>
      {n === 0 ? (
        <EmptyState title="No incident in this span">
          <p>
            {patterns.rate
              ? `${patterns.rate.days} school days were observed and no incident was written down.`
              : "There was no school day in this span."}
          </p>
        </EmptyState>
      ) : (
        <>
          <section aria-labelledby="stands-out" className="mt-4">
            <h3 id="stands-out" className="font-serif text-lg font-semibold">
              What stands out
            </h3>
            {n < 5 ? (
              <p className="mt-1 text-soft">
                {n} {plural(n, "incident")}: too few to say what they have in common. From five on it is said
                here.
              </p>
            ) : findings.length === 0 ? (
              <p className="mt-1 text-soft">
                Nothing goes together more often than chance would have it, and no time of the week stands
                out.
              </p>
            ) : (
              <ol className="mt-1 grid gap-2">
                {findings.map(({ words, strength, incidentIds }) => (
                  <li
                    key={words}
                    className="border-l-4 border-base-300 pl-3 data-[strong]:border-base-content"
                    data-strong={strength === "strong" || undefined}
                  >
                    <details>
                      <summary className="cursor-pointer font-serif leading-relaxed" dir="auto">
                        {strength === "weak" ? <b className="font-sans text-fine">weak: </b> : null}
                        {capitalise(words)}.
                      </summary>
                      <Behind ids={incidentIds} told={told} studentId={studentId} />
                    </details>
                  </li>
                ))}
              </ol>
            )}
            <p className="mt-2 max-w-[46rem] text-fine text-soft">
              Among recorded incidents only: it is not known how often the same goes by without one. A
              description, not a functional analysis. “Weak” may well be chance.
            </p>
          </section>
          <section aria-labelledby="how-often" className="mt-6 border-t border-base-300 pt-4">
            <h3 id="how-often" className="font-serif text-lg font-semibold">
              How often
            </h3>
            <p className="mt-1">
              {rate ? `${rateWords(rate)}.` : "No observed school day."}
              {silent > 0
                ? ` On ${silent} of them nobody wrote anything: they count as days without an incident.`
                : ""}
            </p>
            <Weeks weeks={weeks} />
            <details className="text-fine">
              <summary className="min-h-8 cursor-pointer text-soft">The weeks as a table</summary>
              <table className="pair-table">
                <thead>
                  <tr>
                    <th scope="col">Week of</th>
                    <th scope="col">incidents</th>
                    <th scope="col">days observed</th>
                    <th scope="col">a day</th>
                  </tr>
                </thead>
                <tbody>
                  {weeks.map(({ monday, incidentIds, days: observed }) => (
                    <tr key={monday}>
                      <td>{dateWithYear(monday)}</td>
                      <td>{incidentIds.length}</td>
                      <td>{observed}</td>
                      <td>{observed > 0 ? (incidentIds.length / observed).toFixed(2) : "–"}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </details>
          </section>
          <section aria-labelledby="when" className="mt-6 border-t border-base-300 pt-4">
            <h3 id="when" className="font-serif text-lg font-semibold">
              When
            </h3>
            <Grid patterns={patterns} told={told} studentId={studentId} />
          </section>
          <div className="mt-6 grid gap-x-10 gap-y-6 border-t border-base-300 pt-4 sm:grid-cols-2">
            {aspectTitles.map(([aspect, title]) => (
              <Bars key={aspect} title={title} counted={labels[aspect]} told={told} studentId={studentId} />
            ))}
            <Bars
              title={`How long (${lengths.known > 0 ? lengthWords(lengths.total) : "not said"})`}
              counted={lengths.bands}
              told={told}
              studentId={studentId}
            />
            <Bars
              title="How strong"
              counted={patterns.strengths}
              told={told}
              studentId={studentId}
              words={(label) => `${label}: ${strengths[Number(label) - 1] ?? ""}`}
            />
          </div>
          <section aria-labelledby="with-what" className="mt-6 border-t border-base-300 pt-4">
            <h3 id="with-what" className="font-serif text-lg font-semibold">
              What goes with what
            </h3>
            <Pairs patterns={patterns} />
          </section>
        </>
      )}
    </section>
  );
}
