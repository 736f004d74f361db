import { lazy, Suspense, useEffect, useState } from "react";
import { Form, NavLink, Outlet, useNavigate, useParams } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDue } from "#server/db/due.ts";
import { listStudents } from "#server/db/students.ts";
import { shortName } from "#core/model/student-names.ts";
import { DueDot } from "#app/ui/due-dot.tsx";
import { useLiveUpdates } from "#app/ui/live-updates.ts";
import { useKeys } from "#app/ui/keys.ts";
import { notForTheQuery } from "#app/ui/same-page.ts";
import type { Route } from "./+types/frame";
import { useAwake } from "#app/ui/use-awake.ts";

const Palette = lazy(() => import("#app/ui/palette.tsx"));
const Unsent = lazy(() => import("#app/ui/unsent.tsx"));
const SignOut = lazy(() => import("#app/ui/sign-out-sheet.tsx"));
const KeyHelp = lazy(() => import("#app/ui/key-help.tsx"));

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const { actor } = scope;
    const students = await listStudents(scope);
    const today = scope.today;
    const due = await listDue(scope, await readCalendar(scope), today);
    const dueToday = new Set(due.flatMap((one) => (one.due.state === "today" ? one.studentId : [])));
    return {
      me: shortName(actor.givenName, actor.familyName),
      school: actor.schoolName,
      students: students.map(({ studentId, name, initials }) => ({
        studentId,
        name,
        initials,
        due: dueToday.has(studentId),
      })),
    };
  });
}

export const shouldRevalidate = notForTheQuery;

export default function Frame({ loaderData: { students, me, school } }: Route.ComponentProps) {
  const navigate = useNavigate();
  const [sheet, setSheet] = useState<"palette" | "keys" | "sign out" | null>(null);
  const ready = useAwake();
  const { studentId } = useParams();
  useEffect(() => {
    // On a phone the spine is a strip that may hold more tabs than it shows.
    document
      .querySelector(".spine-tab[aria-current]")
      ?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [studentId]);
  useLiveUpdates();
  // A dialog says that it is closed a moment after it is: the next one may be open by then, and stays open.
  const closes = (closed: typeof sheet) => () => setSheet((now) => (now === closed ? null : now));
  useKeys({
    "mod+k": () => setSheet("palette"),
    "?": () => setSheet("keys"),
    "g c": () => void navigate("/caseload"),
    "g t": () => void navigate("/today"),
    s: () => void navigate("/record"),
    i: () => void navigate(`/record?incident=${studentId ?? ""}`),
  });
  return (
    <div className="notebook" data-ready={ready || undefined}>
      <a href="#page" className="btn btn-primary sr-only z-50 focus:not-sr-only focus:absolute focus:m-2">
        Skip to the page
      </a>
      <nav className="spine" aria-label="Students">
        <NavLink to="/caseload" aria-label="Caseload" className="wordmark spine-mark px-4 py-4">
          g<span />m
        </NavLink>
        <NavLink to="/today" className="spine-tab">
          Today
        </NavLink>
        {students.map(({ studentId, name, initials, due }) => (
          <NavLink
            key={studentId}
            to={`/students/${studentId}`}
            className="spine-tab"
            title={due ? `${name}: data due today` : name}
            aria-label={due ? `${name}, data due today` : name}
          >
            {initials}
            {due ? <DueDot /> : null}
          </NavLink>
        ))}
        <div className="spine-foot mt-auto grid gap-1 px-2 pt-4 text-center text-[0.75rem] text-soft max-sm:mt-0 max-sm:flex max-sm:items-center max-sm:pt-0">
          <button
            type="button"
            className="with-scripts min-h-9 cursor-pointer rounded px-1 hover:text-base-content"
            onClick={() => setSheet("palette")}
          >
            Find <kbd className="font-sans">⌘K</kbd>
          </button>
          <button
            type="button"
            className="with-scripts min-h-9 cursor-pointer rounded px-1 hover:text-base-content"
            onClick={() => setSheet("keys")}
            aria-label="Keys"
          >
            Keys <kbd className="font-sans">?</kbd>
          </button>
          {ready ? (
            <Suspense>
              <Unsent />
            </Suspense>
          ) : null}
          <Form
            method="post"
            action="/sign-out"
            onSubmit={(event) => {
              event.preventDefault();
              setSheet("sign out");
            }}
          >
            <button
              className="min-h-9 cursor-pointer rounded px-1 leading-tight hover:text-base-content"
              title={`${me}, ${school}`}
            >
              Sign out
            </button>
          </Form>
        </div>
      </nav>
      <Outlet />
      <Suspense>
        {sheet === "palette" ? <Palette onClose={closes("palette")} /> : null}
        {sheet === "sign out" ? <SignOut onClose={closes("sign out")} /> : null}
        {sheet === "keys" ? <KeyHelp onClose={closes("keys")} /> : null}
      </Suspense>
    </div>
  );
}
