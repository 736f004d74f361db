import { lazy, Suspense, useEffect, useState } from "react";
import {
  Form,
  Link,
  NavLink,
  Outlet,
  type ShouldRevalidateFunctionArgs,
  useNavigate,
  useParams,
  useSearchParams,
} from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDue } from "#server/db/due.ts";
import { listGroups } from "#server/db/groups.ts";
import { readLetterKeys } from "#server/db/own-settings.ts";
import { listStudents } from "#server/db/students.ts";
import { shortName } from "#core/model/student-names.ts";
import { usePerson } from "#app/kit/use-person.ts";
import { usePrints } from "#app/kit/use-prints.ts";
import { DueDot } from "#app/ui/due-dot.tsx";
import { useLiveUpdates } from "#app/live/live-updates.ts";
import { setLetterKeys, useKeys } from "#app/ui/keys.ts";
import { notForTheQuery } from "#app/ui/same-page.ts";
import { isReadForChange } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/frame";
import { useAwake } from "#app/ui/use-awake.ts";

const Palette = lazy(() => import("#app/ui/palette.tsx"));
const Unsent = lazy(() => import("#app/ui/unsent.tsx"));
const SignOut = lazy(() => import("#app/ui/sign-out-sheet.tsx"));
const Help = lazy(() => import("#app/ui/help.tsx"));

/** From so many students on the spine shows its groups. */
const groupedFrom = 10;

/** Each student in the first group that has them; those in none come last, under no name. */
function inGroups<S extends { studentId: string }>(
  students: readonly S[],
  groups: readonly { groupId: string; name: string; studentIds: readonly string[] }[],
): { groupId: string; name: string; students: S[] }[] {
  const groupOf = new Map(
    groups.toReversed().flatMap(({ groupId, studentIds }) => studentIds.map((id) => [id, groupId])),
  );
  return [...groups, { groupId: "", name: "" }]
    .map(({ groupId, name }) => ({
      ...{ groupId, name },
      students: students.filter((one) => (groupOf.get(one.studentId) ?? "") === groupId),
    }))
    .filter((group) => group.students.length > 0);
}

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const { actor } = scope;
    const madeAt = Date.now();
    const students = await listStudents(scope);
    const today = scope.today;
    const due = await listDue(scope, await readCalendar(scope), today);
    const dueToday = new Set(due.flatMap((one) => (one.due.state === "today" ? one.studentId : [])));
    const groups = students.length < groupedFrom ? [] : await listGroups(scope, students);
    return {
      ...{ personId: actor.personId, madeAt },
      keys: await readLetterKeys(scope),
      me: shortName(actor.givenName, actor.familyName),
      school: actor.schoolName,
      hasSchools: actor.schools > 1,
      groups: inGroups(students, groups).map(({ groupId, name, students }) => ({
        ...{ groupId, name },
        students: students.map(({ studentId, name, initials }) => ({
          ...{ studentId, name, initials },
          due: dueToday.has(studentId),
        })),
      })),
    };
  });
}

/** The strip of students is read with what this person saves, and not with every change by others. */
export const shouldRevalidate = (change: ShouldRevalidateFunctionArgs): boolean =>
  !isReadForChange(change) && notForTheQuery(change);

export default function Frame({
  loaderData: { groups, personId, madeAt, keys, me, school, hasSchools },
}: Route.ComponentProps) {
  const navigate = useNavigate();
  const [sheet, setSheet] = useState<"palette" | "keys" | "sign out" | null>(null);
  const ready = useAwake();
  const { studentId } = useParams();
  // Pages of several students may be of one: past observations and data sheets.
  const about = useSearchParams()[0].get("student") ?? studentId;
  useEffect(() => {
    // On a phone the spine is a strip that may hold more tabs than it shows.
    document
      .querySelector(".spine-tab[aria-current]")
      ?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [about]);
  usePerson(personId);
  useEffect(() => setLetterKeys(keys), [keys]);
  useLiveUpdates({ personId, madeAt });
  usePrints(about);
  // A dialog says that it is closed a moment after it is: the next one may be open by then, and stays open.
  const closes = (closed: typeof sheet) => () => setSheet((now) => (now === closed ? null : now));
  const writing = (what: string) => `/record?${what}=${studentId ?? ""}`;
  useKeys({
    "mod+k": () => setSheet("palette"),
    "?": () => setSheet("keys"),
    "g c": () => void navigate("/caseload"),
    "g t": () => void navigate("/today"),
    "g p": () => void navigate("/progress-reports"),
    s: () => void navigate("/record"),
    i: () => void navigate(writing("incident")),
    j: () => void navigate(writing("jot")),
  });
  return (
    <div className="notebook" data-ready={ready || undefined}>
      <a href="#page" className="btn btn-primary sr-only z-50 focus:not-sr-only focus:absolute focus:m-2">
        Skip to the page
      </a>
      <nav className="spine" aria-label="Students">
        <div className="spine-pinned">
          <NavLink to="/caseload" className="spine-mark">
            <span className="wordmark" aria-hidden="true">
              g<span />m
            </span>
            <span className="spine-word">Caseload</span>
          </NavLink>
          <NavLink to="/today" className="spine-tab">
            Today
          </NavLink>
          <Link to="/record" className="spine-tab">
            Record
          </Link>
          <Link to={writing("incident")} className="spine-tab">
            Incident
          </Link>
          <Link to={writing("jot")} className="spine-tab spine-wide">
            Jot
          </Link>
          <button type="button" className="spine-tab with-scripts" onClick={() => setSheet("palette")}>
            Find
          </button>
        </div>
        <div className="spine-students">
          {groups.map(({ groupId, name, students }) => (
            <div key={groupId} role="group" aria-label={name || "in no group"} className="contents">
              {groups.length > 1 ? (
                <span className="spine-group" aria-hidden="true" title={name} dir="auto">
                  {name || "in no group"}
                </span>
              ) : null}
              {students.map(({ studentId, name, initials, due }) => {
                const label = `${initials}, ${name}${due ? ", data due today" : ""}`;
                return (
                  <Link
                    key={studentId}
                    to={`/students/${studentId}`}
                    className="spine-tab"
                    aria-current={studentId === about ? "page" : undefined}
                    title={due ? `${name}: data due today` : name}
                    aria-label={label}
                  >
                    <span dir="auto">{initials}</span>
                    {due ? <DueDot /> : null}
                  </Link>
                );
              })}
            </div>
          ))}
        </div>
        <div className="spine-foot">
          <button type="button" className="with-scripts" onClick={() => setSheet("keys")}>
            Help <kbd className="font-sans">?</kbd>
          </button>
          <Link to="/account" title={`${me}, ${school}`}>
            Account
          </Link>
          {hasSchools ? (
            <Link to="/schools" title={`You are in ${school}`}>
              Schools
            </Link>
          ) : null}
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
            <button title={`${me}, ${school}`}>Sign out</button>
          </Form>
        </div>
      </nav>
      <Outlet />
      <Suspense>
        {sheet === "palette" ? <Palette onClose={closes("palette")} /> : null}
        {sheet === "sign out" ? <SignOut onClose={closes("sign out")} /> : null}
        {sheet === "keys" ? <Help letterKeys={keys} onClose={closes("keys")} /> : null}
      </Suspense>
    </div>
  );
}
