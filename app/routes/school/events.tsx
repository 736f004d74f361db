import { Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { listSchoolEvents } from "#server/db/access-record.ts";
import { listStaff } from "#server/db/staff.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { EventList } from "#app/ui/event-list.tsx";
import { Field, Select } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { eventKindNames, readEventFilter } from "../access/access-filter.ts";
import type { Route } from "./+types/events";

const pageSize = 80;
/** So many days are shown where none are chosen. */
const daysShown = 30;

export function loader({ request, context }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  return authorize(request, context, "events.read", null, async (scope) => {
    const asks = readEventFilter(search);
    const filter = { from: dateOfDay(dayNumber(scope.today) - daysShown), ...asks, notSaw: !asks.kind };
    const asked = search.get("person") ?? "";
    const personId = isId(asked) ? asked : "";
    const lines = await listSchoolEvents(
      scope,
      { ...filter, ...(personId ? { personId } : {}) },
      pageSize + 1,
    );
    return {
      lines: lines.slice(0, pageSize),
      more: lines.length > pageSize ? (lines[pageSize - 1]?.place ?? null) : null,
      chosen: { kind: filter.kind ?? "", person: personId, from: filter.from, to: filter.to ?? "" },
      isLater: filter.before !== undefined,
      staff: (await listStaff(scope)).map(({ personId: one, givenName, familyName }): [string, string] => [
        one,
        `${givenName} ${familyName}`,
      ]),
    };
  });
}

/** Everything that happened in the school, with what was before and after. */
export default function SchoolEvents({
  loaderData: { lines, more, chosen, isLater, staff },
}: Route.ComponentProps) {
  const at = (before: Record<string, string>) =>
    `?${new URLSearchParams(Object.entries({ ...chosen, ...before }).filter(([, value]) => value !== "")).toString()}`;
  return (
    <>
      <PageTitle title="Events" className="font-serif text-[1.35rem] font-semibold" />
      <p className="max-w-[46rem] text-soft">
        Sign-ins, refusals, accounts and roles, settings, files, commands, and who looked at which record:
        each with who did it and what was before. What is in a student’s record is not shown here.
      </p>
      <ChoicesForm
        label="Which events"
        className="mt-4 grid max-w-[64rem] grid-cols-1 gap-3 sm:grid-cols-2 lg:grid-cols-4"
      >
        <Select
          label="What"
          name="kind"
          defaultValue={chosen.kind}
          options={[["", "All but pages looked at"], ...Object.entries(eventKindNames)]}
        />
        <Select
          label="Who"
          name="person"
          defaultValue={chosen.person}
          options={[["", "Everyone"], ...staff]}
        />
        <Field label="From" name="from" type="date" defaultValue={chosen.from} />
        <Field label="To" name="to" type="date" defaultValue={chosen.to} />
      </ChoicesForm>
      {lines.length === 0 ? (
        <EmptyState title="Nothing of these days">
          <p>No event is like this. Choose other days or something else.</p>
        </EmptyState>
      ) : (
        <EventList lines={lines} named />
      )}
      <p className="mt-3 flex gap-5">
        {isLater ? (
          <Link className="link" to={at({})}>
            Newest
          </Link>
        ) : null}
        {more ? (
          <Link className="link" to={at({ before: more })}>
            Older events
          </Link>
        ) : null}
      </p>
    </>
  );
}
