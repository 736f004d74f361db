import { Link } from "react-router";
import { groupBy } from "#core/group-by.ts";
import { incidentLine } from "#core/report/incident-line.ts";
import { longDate } from "#core/words/dates.ts";
import { capitalise, countWord, plural } from "#core/words/numbers.ts";
import { enter } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { listIncidents } from "#server/db/incidents.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import type { Route } from "./+types/incidents";

const listLength = 300;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "incident.read", params.studentId, async (visit) => {
    const incidents = await listIncidents(visit, params.studentId, { limit: listLength + 1 });
    return {
      incidents: incidents.slice(0, listLength).map((incident) => ({
        incidentId: incident.incidentId,
        on: incident.on,
        when: incident.at ?? incident.period ?? "time not known",
        author: incident.author,
        ongoing: incident.ongoing,
        isAccount: incident.sameAs !== null,
        corrected: incident.revision > 1,
        said: incidentLine(incident),
      })),
      more: incidents.length > listLength,
      mayRecord: may(visit.person, "incident.record", { part: visit.part }),
      mayChoose: may(visit.person, "choices.edit", { part: visit.part }),
    };
  });
}

type Told = Route.ComponentProps["loaderData"]["incidents"][number];

function Line({ incident, studentId }: { incident: Told; studentId: string }) {
  const { incidentId, when, author, ongoing, isAccount, corrected, said } = incident;
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
          {ongoing || isAccount || corrected ? (
            <span className="block text-fine text-soft">
              {[
                ongoing && "still going on when it was written: open it to finish it",
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

/** A student's incidents, newest first, and the ways to write one down and to set up what it is made of. */
export default function Incidents({
  loaderData: { incidents, more, mayRecord, mayChoose },
  params: { studentId },
}: Route.ComponentProps) {
  const counted = incidents.filter(({ isAccount }) => !isAccount).length;
  return (
    <section aria-labelledby="incidents" className="py-5">
      <div className="flex flex-wrap items-center gap-2">
        <h2 id="incidents" className="font-serif text-xl font-semibold">
          Incidents
        </h2>
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
            <Link className="btn btn-primary" to={`/record?incident=${studentId}`}>
              Write one down
            </Link>
          ) : null}
        </span>
      </div>
      {incidents.length === 0 ? (
        <EmptyState title="None written down">
          <p>
            An incident is one record of what happened just before, what the student did, and what happened
            right after. From five on, this page can say what they have in common.
          </p>
        </EmptyState>
      ) : (
        <>
          <p className="mt-1 mb-3 text-soft">
            {capitalise(countWord(counted))} {plural(counted, "incident")}
            {more ? ", the latest ones" : ""}.
          </p>
          {[...groupBy(incidents, ({ on }) => on)].map(([day, ofDay]) => (
            <section key={day} aria-label={longDate(day)} className="mb-4">
              <h3 className="pb-1 text-fine font-bold text-soft">{longDate(day)}</h3>
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
