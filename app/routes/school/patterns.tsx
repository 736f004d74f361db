import { Form, useSubmit } from "react-router";
import { fewestStudents } from "#core/incidents/fewest-students.ts";
import { changeWords, rateWords } from "#core/incidents/rate-words.ts";
import type { SchoolSpan } from "#core/incidents/school-spans.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { capitalise, plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { Bar } from "#app/ui/bar.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { CsvLink, TableFold } from "../incidents/pictures.tsx";
import { aspectTitles, type PatternTable } from "../incidents/tables.ts";
import { WeekGrid } from "../incidents/week-picture.tsx";
import { readSchoolPatterns } from "./school-patterns.server.ts";
import { schoolTables } from "./school-tables.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/patterns";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.patterns", null, (scope) =>
    readSchoolPatterns(scope, new URL(request.url).searchParams),
  );
}

/** Bars of counts that nobody stands behind by name. */
function Counts({ title, name, table }: { title: string; name: string; table: PatternTable }) {
  const counts = table.rows.map(({ cells }) => cells[1]);
  const top = Math.max(1, ...counts.map((count) => (typeof count === "number" ? count : 0)));
  return (
    <section aria-label={title} className="break-inside-avoid">
      <h3 className="font-serif text-lg font-semibold">{title}</h3>
      {table.rows.length === 0 ? <p className="text-soft">Not recorded.</p> : null}
      <ul className="mt-1">
        {table.rows.map(({ cells: [label, count] }) => (
          <li key={label} className="border-b border-base-300 py-1">
            <span dir="auto">{label}</span>{" "}
            {typeof count === "number" ? (
              <b>{count}</b>
            ) : (
              <span className="text-fine text-soft">{count}</span>
            )}
            <Bar share={typeof count === "number" ? count / top : 0} />
          </li>
        ))}
      </ul>
      {table.rows.length > 0 ? <TableFold name={name} title={title} table={() => table} /> : null}
    </section>
  );
}

const spanWords = ({ from, to }: SchoolSpan) => `${dateWithYear(from)} to ${dateWithYear(to)}`;

/** The incidents of the school together. No student can be recognised. */
export default function SchoolPatternsPage({ loaderData }: Route.ComponentProps) {
  const { patterns, spans, span, before, change } = loaderData;
  const submit = useSubmit();
  const choicesKey = useChoicesKey();
  const tables = patterns ? schoolTables(patterns, loaderData.strengths) : {};
  const table = (name: string): PatternTable => tables[name] ?? { head: [], rows: [] };
  return (
    <>
      <PageTitle title="Patterns of the school" className="sr-only" />
      {span ? (
        <Form
          key={choicesKey}
          className="no-print flex flex-wrap gap-2"
          role="search"
          aria-label="Which incidents"
          onChange={(event) =>
            void submit(event.currentTarget, { preventScrollReset: true, state: chosenHere })
          }
        >
          <select className="select w-80" name="span" defaultValue={span.from} aria-label="Span">
            {spans.map((one) => (
              <option key={one.from} value={one.from}>
                {spanWords(one)}
              </option>
            ))}
          </select>
          <noscript>
            <button className="btn btn-plain">Show</button>
          </noscript>
        </Form>
      ) : null}
      {patterns === null ? (
        <EmptyState title="Too few to count together">
          <p>
            The school’s incidents are shown when a month is over by whose end at least {fewestStudents}{" "}
            students had one. With fewer, a reader could tell who they are.
          </p>
        </EmptyState>
      ) : (
        <>
          <section aria-labelledby="stands-out" className="mt-5 max-w-4xl">
            <h2 id="stands-out" className="font-serif text-[1.15rem] font-semibold">
              Findings
            </h2>
            {patterns.findings.length > 0 ? (
              <>
                <ul className="mt-1 grid gap-2">
                  {patterns.findings.map((words) => (
                    <li
                      key={words}
                      className="border-l-4 border-base-300 pl-3 font-serif leading-relaxed"
                      dir="auto"
                    >
                      {capitalise(words)}.
                    </li>
                  ))}
                </ul>
                <p className="mt-1 text-fine text-soft">
                  A finding needs at least five incidents, of which no student has more than half. Findings
                  are not tested: the incidents of one student are alike, so a finding may be chance.{" "}
                  <CsvLink table="stands-out" title="findings" />
                </p>
              </>
            ) : (
              <p className="mt-1 text-soft">No pattern is shared by several students.</p>
            )}
          </section>
          <section aria-labelledby="how-often" className="mt-5 max-w-4xl border-t border-base-300 pt-4">
            <h2 id="how-often" className="font-serif text-[1.15rem] font-semibold">
              How often
            </h2>
            <p className="mt-1">
              {patterns.n} {plural(patterns.n, "incident")} of {patterns.students} students
              {patterns.rate ? ` in ${patterns.rate.days} school days: ${rateWords(patterns.rate)}` : ""}.
            </p>
            {before ? (
              <p className="mt-1">
                <b>Compared with {spanWords(before)}:</b> {changeWords(change)}
              </p>
            ) : null}
            <p className="mt-1 text-fine text-soft">
              Based on recorded incidents only: a busy place may be a place where more is recorded. Numbers
              from fewer than three students are not shown, nor numbers they could be calculated from. Spans
              are whole months that are over and never overlap: from two that do, the difference would tell of
              one student.
            </p>
          </section>
          <section aria-labelledby="when" className="mt-5 border-t border-base-300 pt-4">
            <h2 id="when" className="font-serif text-[1.15rem] font-semibold">
              When
            </h2>
            <WeekGrid grid={patterns.grid} weekdays={patterns.weekdays} countOf={({ count }) => count ?? 0}>
              {({ count }) =>
                count === null ? (
                  <small>
                    few<span className="sr-only">er than three students</span>
                  </small>
                ) : (
                  <b className={count === 0 ? "font-normal text-soft" : ""}>{count}</b>
                )
              }
            </WeekGrid>
            <TableFold name="week" title="Incidents by period and weekday" table={() => table("week")} />
          </section>
          <div className="mt-6 grid max-w-5xl gap-x-10 gap-y-6 border-t border-base-300 pt-4 sm:grid-cols-2">
            <Counts title="By week" name="time" table={table("time")} />
            {aspectTitles.map(([aspect, title]) => (
              <Counts key={aspect} title={title} name={aspect} table={table(aspect)} />
            ))}
            <Counts title="How long" name="length" table={table("length")} />
            <Counts title="How strong" name="strength" table={table("strength")} />
          </div>
          <section aria-labelledby="with-what" className="mt-6 border-t border-base-300 pt-4">
            <h2 id="with-what" className="font-serif text-[1.15rem] font-semibold">
              What occurs together
            </h2>
            <p className="text-fine text-soft">
              Among recorded incidents of at least three students. Not tested: incidents of one student are
              alike.
            </p>
            {patterns.pairs.length > 0 ? (
              <TableFold name="pairs" title="Pairs of labels" table={() => table("pairs")} open />
            ) : (
              <p className="text-soft">Nothing of three students goes together.</p>
            )}
            {patterns.chains.length > 0 ? (
              <>
                <h3 className="mt-4 font-serif text-lg font-semibold">Most frequent chains</h3>
                <TableFold
                  name="chains"
                  title="Chains of before, did and after"
                  table={() => table("chains")}
                  open
                />
              </>
            ) : null}
          </section>
        </>
      )}
    </>
  );
}
