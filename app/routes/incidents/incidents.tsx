import { Form, Link, useLocation, useSubmit } from "react-router";
import { type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { incidentLine } from "#core/report/incident-line.ts";
import { dateWithYear, longDate, shortDate, timeOfDay } from "#core/words/dates.ts";
import { capitalise, countWord, plural } from "#core/words/numbers.ts";
import { reportingSpans } from "#core/schedule/reporting-spans.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { listIncidents, listNearPairs } from "#server/db/incident-lists.ts";
import { listChoices } from "#server/db/choices.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { DayWords } from "#app/ui/day-words.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { incidentKinds, isLookedFor, readNarrowing } from "./narrow.ts";
import { SameOne } from "./same-one.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/incidents";

const listLength = 300;
/** How many of the latest are looked through. */
const searched = 2000;
/** The number of days back for which possible duplicates are asked about. */
const askedDays = 60;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "incident.read", params.studentId, async (scope) => {
    const periods = reportingSpans(await readCalendar(scope), scope.today);
    const wanted = readNarrowing(new URL(request.url).searchParams, periods);
    const all = await listIncidents(scope, params.studentId, { limit: searched });
    const found = all.filter((incident) => isLookedFor(incident, wanted));
    const choices = await listChoices(scope, params.studentId);
    const today = scope.today;
    const mayRecord = may(scope.actor, "incident.record", { circleRole: scope.circleRole });
    return {
      wanted,
      periods: periods.map(({ key, words }) => ({ key, words })),
      incidents: found.slice(0, listLength).map((incident) => ({
        incidentId: incident.incidentId,
        on: incident.on,
        when: timeOfDay(incident.at ?? incident.period ?? "Time not known"),
        author: incident.author,
        ongoing: incident.ongoing,
        isAccount: incident.sameAs !== null,
        corrected: incident.corrected,
        factsMissing: incident.factsMissing,
        said: incidentLine(incident),
      })),
      any: all.length > 0,
      counted: found.filter(({ sameAs }) => sameAs === null).length,
      more: found.length > listLength,
      authors: [...new Set(all.map(({ author }) => author))].sort(),
      choices: choiceLists.map((list) => ({
        list,
        names: choices.filter((one) => one.list === list).map(({ choiceId, name }) => ({ choiceId, name })),
      })),
      school: scope.actor.schoolName,
      printedOn: today,
      near: mayRecord
        ? await listNearPairs(scope, params.studentId, dateOfDay(dayNumber(today) - askedDays))
        : [],
      mayRecord,
      mayChoose: may(scope.actor, "choices.edit", { circleRole: scope.circleRole }),
    };
  });
}

type Told = Route.ComponentProps["loaderData"]["incidents"][number];

function Line({ incident, studentId }: { incident: Told; studentId: string }) {
  const { incidentId, when, author, ongoing, factsMissing, isAccount, corrected, said } = incident;
  return (
    <li className="border-t border-base-300">
      <Link
        to={`/students/${studentId}/incidents/${incidentId}`}
        className="grid grid-cols-[7.5rem_1fr] gap-x-4 py-2 no-underline hover:bg-base-200 max-sm:grid-cols-1"
      >
        <span className="text-fine text-soft">
          <b className="block text-base-content">{when}</b>
          {author}
        </span>
        <span className="min-w-0">
          <span className="font-serif leading-snug break-words" dir="auto">
            {said.sentence} {said.note}
          </span>
          {ongoing || factsMissing.length > 0 || isAccount || corrected ? (
            <span className="block text-fine text-soft">
              {[
                ongoing && "still going on when recorded: open it to finish it",
                factsMissing.length > 0 && `facts missing: ${factsMissing.join("; ")}`,
                isAccount && "another account of the same incident, counted once",
                corrected && "corrected",
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          ) : null}
        </span>
      </Link>
    </li>
  );
}

const listTitles: Record<ChoiceList, string> = {
  setting: "Where",
  antecedent: "Just before",
  behavior: "What was done",
  consequence: "Right after",
  "setting event": "That day",
};

/** The search fields. They stand in the address, and the list follows each choice. */
function Narrow({ loaderData }: { loaderData: Route.ComponentProps["loaderData"] }) {
  const { wanted, authors, choices, periods } = loaderData;
  const submit = useSubmit();
  const { pathname, search } = useLocation();
  const any = Object.values(wanted).some((value) => value !== "");
  return (
    <Form
      key={useChoicesKey()}
      role="search"
      aria-label="Which incidents"
      className="no-print mt-3 flex flex-wrap items-end gap-2"
      onChange={(event) => {
        const form = new FormData(event.currentTarget);
        const isWords = event.target instanceof HTMLInputElement && event.target.type === "search";
        for (const [name, value] of [...form]) if (value === "") form.delete(name);
        // Each letter looks anew, and only the last stays in the history.
        void submit(form, {
          replace: isWords && search !== "",
          preventScrollReset: true,
          state: chosenHere,
        });
      }}
      onSubmit={(event) => event.preventDefault()}
    >
      <input
        type="search"
        name="words"
        className="input w-44"
        placeholder="Search"
        aria-label="Words"
        maxLength={100}
        defaultValue={wanted.words}
      />
      <select className="select w-48" name="choice" defaultValue={wanted.choice} aria-label="Choice">
        <option value="">Any behavior or antecedent</option>
        {choices.map(({ list, names }) => (
          <optgroup key={list} label={listTitles[list]}>
            {names.map(({ choiceId, name }) => (
              <option key={choiceId} value={choiceId}>
                {name}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
      <select className="select w-40" name="author" defaultValue={wanted.author} aria-label="Written by">
        <option value="">By anyone</option>
        {authors.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
      <select className="select w-40" name="kind" defaultValue={wanted.kind} aria-label="Kind">
        {incidentKinds.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
      {periods.length > 0 ? (
        <select
          className="select w-44"
          name="period"
          defaultValue={wanted.period}
          aria-label="Reporting period"
        >
          <option value="">Any time</option>
          {periods.map(({ key, words }) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      ) : null}
      <span className="flex flex-wrap items-center gap-2">
        <input className="input w-40" type="date" name="from" defaultValue={wanted.from} aria-label="From" />
        <span className="text-fine text-soft">to</span>
        <input className="input w-40" type="date" name="to" defaultValue={wanted.to} aria-label="To" />
      </span>
      {any ? (
        <Link className="btn btn-plain" to={pathname}>
          Clear
        </Link>
      ) : null}
      <button type="button" className="btn btn-plain with-scripts" onClick={() => window.print()}>
        Print
      </button>
      <noscript>
        <button className="btn btn-plain">Search</button>
      </noscript>
    </Form>
  );
}

/** A student's incidents, newest first, and the ways to write one down and to set up what it is made of. */
export default function Incidents({ loaderData, params: { studentId } }: Route.ComponentProps) {
  const { incidents, any, counted, more, near, school, printedOn, mayRecord, mayChoose } = loaderData;
  return (
    <section aria-label="Incidents" className="py-5">
      <div className="flex flex-wrap items-center gap-2">
        <StudentTitle title="Incidents" className="font-serif text-xl font-semibold" />
        <span className="print-only text-fine">
          {school} · printed {dateWithYear(printedOn)}
        </span>
        <span className="no-print ml-auto flex flex-wrap gap-2">
          <Link className="btn btn-plain" to={`/students/${studentId}/patterns`}>
            Patterns
          </Link>
          {mayChoose ? (
            <Link className="btn btn-plain" to={`/students/${studentId}/choices`}>
              Choice lists
            </Link>
          ) : null}
          {mayRecord ? (
            <>
              <Link className="btn btn-plain" to={`/students/${studentId}/incidents/several`}>
                Several at once
              </Link>
              <Link className="btn btn-primary" to={`/record?incident=${studentId}`}>
                Record an incident
              </Link>
            </>
          ) : null}
        </span>
      </div>
      {near.map(({ on, at, by, incidentId, other }) => (
        <SameOne
          key={`${incidentId} ${other.incidentId}`}
          {...{ studentId, incidentId, otherId: other.incidentId }}
          back="list"
        >
          {shortDate(on)}: {by} wrote down{" "}
          <Link className="link" to={`/students/${studentId}/incidents/${incidentId}`}>
            one at {at}
          </Link>
          , {other.by}{" "}
          <Link className="link" to={`/students/${studentId}/incidents/${other.incidentId}`}>
            one at {other.at}
          </Link>
          . Are they the same one?
        </SameOne>
      ))}
      {any ? <Narrow loaderData={loaderData} /> : null}
      {!any ? (
        <EmptyState title="No incidents recorded">
          <p>
            An incident is one record of what happened just before, what the student did, and what happened
            right after. From five on, this page can say what they have in common.
          </p>
        </EmptyState>
      ) : incidents.length === 0 ? (
        <EmptyState title="None of these">
          <p>No incident has all of what is looked for. Take something out above.</p>
        </EmptyState>
      ) : (
        <>
          <p className="mt-2 mb-3 text-soft" role="status">
            {capitalise(countWord(counted))} {plural(counted, "incident")}
            {more ? ", the latest ones" : ""}.
          </p>
          {[...groupBy(incidents, ({ on }) => on)].map(([day, ofDay]) => (
            <section key={day} aria-label={longDate(day)} className="mb-4 break-inside-avoid">
              <h2 className="pb-1 text-fine font-bold text-soft">
                <DayWords on={day} />
              </h2>
              <ol>
                {ofDay.map((incident) => (
                  <Line key={incident.incidentId} incident={incident} studentId={studentId} />
                ))}
              </ol>
            </section>
          ))}
        </>
      )}
    </section>
  );
}
