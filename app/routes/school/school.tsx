import { NavLink, Outlet } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import type { Route } from "./+types/school";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, ({ actor }) =>
    Promise.resolve({
      school: actor.schoolName,
      mayEdit: may(actor, "school.edit", { circleRole: null }),
      mayCount: may(actor, "school.patterns", { circleRole: null }),
      mayRetain: may(actor, "retention.read", { circleRole: null }),
      maySayWho: may(actor, "circles.edit", { circleRole: null }),
      mayInvite: may(actor, "staff.edit", { circleRole: null }),
    }),
  );
}

/** What belongs to the school as a whole: one page for each, all under one heading. */
export default function School({
  loaderData: { school, mayEdit, mayCount, maySayWho, mayInvite, mayRetain },
}: Route.ComponentProps) {
  const pages = [
    ["calendar", "Calendar"],
    ["week", "Timetable"],
    ["groups", "Groups"],
    ["staff", "Staff"],
    ...(mayInvite
      ? [
          ["accounts", "Accounts"],
          ["mail", "Mail"],
          ["events", "Events"],
        ]
      : []),
    ...(maySayWho ? [["circles", "Circles"]] : []),
    ["templates", "Goal templates"],
    ...(mayEdit
      ? [
          ["lists", "Lists"],
          ["incidents", "Incidents"],
          ["jots", "Jots"],
          ["audiences", "Reports"],
          ["ratings", "Ratings"],
          ["messages", "Messages"],
        ]
      : []),
    ...(mayCount ? [["patterns", "Patterns"]] : []),
    ...(mayRetain
      ? [
          ["retention", "Retention"],
          ["next-year", "Next year"],
        ]
      : []),
  ];
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-5 flex flex-wrap items-baseline gap-x-6 gap-y-1 border-b border-base-300">
        <p className="pb-2 font-serif text-[1.7rem] leading-tight font-semibold">{school}</p>
        <nav aria-label="The school" className="no-print flex flex-wrap gap-x-5">
          {pages.map(([path, name]) => (
            <NavLink key={path} to={`/school/${path}`} className="page-tab">
              {name}
            </NavLink>
          ))}
        </nav>
      </header>
      <Outlet />
    </main>
  );
}
