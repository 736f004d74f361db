import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import {
  addToCircles,
  changePart,
  type CircleOutcome,
  endPart,
  handOverPart,
  listCircleChanges,
  listCircleMembers,
  listWorking,
  readOpenWork,
} from "#server/db/circle.ts";
import { findColleague } from "#server/db/handovers.ts";
import { listMuted, muteFor } from "#server/db/message-readers.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { id, optionalDate } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { GivenPartFields } from "./given-part.tsx";
import { partChoices, circlePartWords } from "./part-words.ts";
import { PickPeople } from "./pick-people.tsx";
import { whatOneMay, whatPartsMay } from "./what-parts-may.server.ts";
import { AsSeenBy, WhoMay } from "./who-may.tsx";
import type { Route } from "./+types/circle";

/** What one person sees of the student and may do, as the page shows it to who decides on it. */
async function readAs(scope: PersonScope, studentId: string, personId: string) {
  const person = await findColleague(scope, personId);
  const member = (await listCircleMembers(scope, studentId)).find((one) => one.personId === personId);
  const circleRole = member?.state === "now" ? member.circleRole : null;
  return {
    ...{ personId, name: `${person.givenName} ${person.familyName}`, circleRole },
    ...whatOneMay(person, circleRole),
  };
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "circle.read", params.studentId, async (scope) => {
    const { studentId } = params;
    const student = await findStudent(scope, studentId);
    const members = await listCircleMembers(scope, studentId);
    const work = await readOpenWork(scope, studentId);
    const muted = await listMuted(scope, studentId);
    const present = new Set(members.filter(({ state }) => state !== "ended").map(({ personId }) => personId));
    const as = new URL(request.url).searchParams.get("as");
    const working = await listWorking(scope);
    return {
      student: { studentId, name: student.name, initials: student.initials },
      today: scope.today,
      me: scope.actor.personId,
      isInside: scope.circleRole !== null,
      mayEdit: may(scope.actor, "circle.edit", { circleRole: scope.circleRole }),
      mayReadRights: may(scope.actor, "rights.read", { circleRole: scope.circleRole }),
      mayReadAccess: may(scope.actor, "access-record.read", { circleRole: scope.circleRole }),
      members: members.map((one) => ({
        ...{ ...one, work: work.get(one.personId) ?? null, isMuted: muted.has(one.personId) },
      })),
      others: working.filter(({ personId }) => !present.has(personId)),
      working,
      table: whatPartsMay(scope.actor),
      as: as !== null && isId(as) ? await readAs(scope, studentId, as) : null,
      changes: await listCircleChanges(scope, studentId),
    };
  });
}

interface CircleParams {
  studentId: string;
}
type Sent = Submitted<CircleParams>;

const role = z.enum(["lead", "record", "read"], "Choose what the person may do.");
const needsLead =
  "A student needs a lead without an end. Add another lead first, or hand the lead over to a colleague.";
const notOfSchool = "Choose people who work at the school now.";

const pageOf = ({ studentId }: CircleParams) => `/students/${studentId}/circle`;

/** Where a change leads, or what stood in its way, beside the field it is about. */
function answer(outcome: CircleOutcome, field: string, { params, wrong }: Sent, gone = false) {
  if (outcome === "needs a lead") return wrong({ [field]: needsLead }, 409);
  if (outcome === "not theirs to change") notFound();
  if (outcome === "not of the school") return wrong({ [field]: notOfSchool });
  // Who ended their own part is not let in any more.
  return redirect(gone ? "/caseload" : pageOf(params));
}

export const action = defineIntents({
  permission: "circle.edit",
  intents: {
    add: intent({
      schema: z.looseObject({ circleRole: role, fromOn: optionalDate, toOn: optionalDate }),
      async run(scope, { circleRole, fromOn, toOn }, sent: Sent) {
        const { form, params, wrong } = sent;
        const personIds = form.getAll("personId").filter(isId);
        if (personIds.length === 0) return wrong({ people: "Choose at least one person." });
        const from = fromOn ?? scope.today;
        if (toOn !== null && toOn < from) return wrong({ toOn: "The last day lies before the first." });
        const given = { circleRole, fromOn: from, toOn };
        return answer(await addToCircles(scope, [params.studentId], personIds, given), "people", sent);
      },
    }),
    change: intent({
      schema: z.object({ personId: id, circleRole: role, toOn: optionalDate }),
      async run(scope, { personId, circleRole, toOn }, sent: Sent) {
        if (toOn !== null && toOn < scope.today)
          return sent.wrong({ [`toOn-${personId}`]: "This day is over. “End now” ends it at once." });
        const outcome = await changePart(scope, sent.params.studentId, personId, { circleRole, toOn });
        return answer(outcome, `part-${personId}`, sent);
      },
    }),
    end: intent({
      schema: z.object({ personId: id }),
      async run(scope, { personId }, sent: Sent) {
        const outcome = await endPart(scope, sent.params.studentId, personId);
        const isGone = personId === scope.actor.personId && scope.actor.role !== "administrator";
        return answer(outcome, `part-${personId}`, sent, isGone);
      },
    }),
    mute: intent({
      schema: z.object({ personId: id, muted: z.enum(["yes", "no"]) }),
      async run(scope, { personId, muted }, sent: Sent) {
        await muteFor(scope, sent.params.studentId, personId, muted === "yes");
        return redirect(pageOf(sent.params));
      },
    }),
    "hand over": intent({
      schema: z.object({ personId: id, toPersonId: z.union([id, z.literal("")]) }),
      async run(scope, { personId, toPersonId }, sent: Sent) {
        if (toPersonId === "") return sent.wrong({ [`to-${personId}`]: "Choose a colleague." });
        if (toPersonId === personId) notFound();
        const outcome = await handOverPart(scope, sent.params.studentId, { personId, toPersonId });
        const isGone = personId === scope.actor.personId && scope.actor.role !== "administrator";
        return answer(outcome, `to-${personId}`, sent, isGone);
      },
    }),
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type LoaderData = Route.ComponentProps["loaderData"];
type Member = LoaderData["members"][number];

const spanWords = ({ fromOn, toOn, state }: Member) =>
  state === "to come"
    ? `from ${dateWithYear(fromOn)}${toOn ? ` until ${dateWithYear(toOn)}` : ""}`
    : toOn
      ? state === "ended"
        ? `until ${dateWithYear(toOn)}`
        : `since ${dateWithYear(fromOn)}, until ${dateWithYear(toOn)}`
      : `since ${dateWithYear(fromOn)}`;

const seenWords = ({ seen }: Member) =>
  seen
    ? `report last open ${dateWithYear(seen.on)}, ${timeOfDay(seen.time)}`
    : "has not opened the report yet";

/** What waits for a person: looked at before their part ends. */
function OpenWork({ work }: { work: Member["work"] }) {
  if (!work) return <p className="text-fine text-soft">No open work with this student.</p>;
  const { measures, writes, openSittings } = work;
  return (
    <ul className="list-disc pl-5 text-fine">
      {measures.length > 0 ? <li>Usually measures {listed(measures)}</li> : null}
      {writes.length > 0 ? <li>Writes the progress statements of {listed(writes)}</li> : null}
      {openSittings > 0 ? (
        <li>
          {openSittings} {plural(openSittings, "sitting")} left open
        </li>
      ) : null}
    </ul>
  );
}

/** How a person's part is changed, handed over and ended. */
function ChangePart({
  member,
  working,
  typed,
  problems,
  busy,
}: {
  member: Member;
  working: LoaderData["working"];
  typed: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
  busy: boolean;
}) {
  const { personId, name, circleRole, toOn, work } = member;
  const mine = typed?.["personId"] === personId ? typed : undefined;
  const partProblem = problems[`part-${personId}`];
  return (
    <details className="mt-1" open={mine !== undefined && Object.keys(problems).length > 0}>
      <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
        Change or end<span className="sr-only"> the part of {name}</span>
      </summary>
      <div className="mt-1 grid gap-4 border-l-2 border-base-300 py-1 pl-4">
        <KeptForm
          draft={`change-${personId}`}
          method="post"
          className="flex flex-wrap items-end gap-3"
          preventScrollReset
          noValidate
        >
          <input type="hidden" name="personId" value={personId} />
          <Select
            key={circleRole}
            label={`What ${name} may do`}
            name="circleRole"
            className="w-56 max-w-full"
            defaultValue={mine?.["circleRole"] ?? circleRole}
            options={partChoices.map(([value, label]) => [value, label] as const)}
          />
          <Field
            key={toOn ?? ""}
            label="Last day, if there is one"
            name="toOn"
            type="date"
            className="w-48 max-w-full"
            defaultValue={mine?.["toOn"] ?? toOn ?? ""}
            problem={problems[`toOn-${personId}`]}
          />
          <button className="btn btn-plain" name="intent" value="change" disabled={busy}>
            Save
          </button>
        </KeptForm>
        <div>
          <OpenWork work={work} />
          <Form method="post" className="mt-2 flex flex-wrap items-end gap-3" preventScrollReset>
            <input type="hidden" name="personId" value={personId} />
            <Select
              label={`Hand the part of ${name} over to`}
              name="toPersonId"
              className="w-64 max-w-full"
              options={[
                ["", "Choose a colleague"],
                ...working
                  .filter((one) => one.personId !== personId)
                  .map((one): [string, string] => [one.personId, one.name]),
              ]}
              problem={problems[`to-${personId}`]}
            />
            <button className="btn btn-plain" name="intent" value="hand over" disabled={busy}>
              Hand over
            </button>
            <button className="btn btn-plain" name="intent" value="end" disabled={busy}>
              End now
            </button>
          </Form>
          <p className="mt-1 text-fine text-soft">
            “End now” works at once, on every page and device of {name}. What {name} recorded stays.
          </p>
        </div>
        <Form method="post" preventScrollReset>
          <input type="hidden" name="personId" value={personId} />
          <input type="hidden" name="muted" value={member.isMuted ? "no" : "yes"} />
          <button className="btn btn-plain" name="intent" value="mute" disabled={busy}>
            {member.isMuted ? "Send messages again" : "Send no messages"}
          </button>
          <p className="mt-1 text-fine text-soft">
            {member.isMuted
              ? `${name} is sent nothing about this student, except of an injury, a restraint or seclusion.`
              : `${name} is sent what ${name.split(" ")[0]} chose. An injury, a restraint or seclusion is always sent.`}
          </p>
        </Form>
        {partProblem ? (
          <p role="alert" className="text-fine font-bold text-error">
            {partProblem}
          </p>
        ) : null}
      </div>
    </details>
  );
}

function Members({
  data: { members, mayEdit, working, student },
  typed,
  problems,
  busy,
}: {
  data: LoaderData;
  typed: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
  busy: boolean;
}) {
  const present = members.filter(({ state }) => state !== "ended");
  const ended = members.filter(({ state }) => state === "ended");
  return (
    <section aria-labelledby="in-the-circle">
      <h2 id="in-the-circle" className="text-lg font-bold">
        In the circle
      </h2>
      {present.length === 0 ? (
        <p className="mt-1 text-soft">
          Nobody is in the circle of {student.name} now. Add a lead first: only who is in the circle sees the
          student.
        </p>
      ) : null}
      <ul className="mt-1">
        {present.map((member) => (
          <li key={member.personId} className="border-b border-base-300 py-2">
            <div className="flex flex-wrap items-baseline gap-x-3">
              <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                {member.name}
              </b>
              <span className="text-[0.9375rem]">{member.position}</span>
              <span className="font-bold">{circlePartWords[member.circleRole]}</span>
              {member.isMuted ? (
                <span className="text-fine">no messages about {student.initials}</span>
              ) : null}
              <Link
                className="link text-fine"
                to={`?as=${member.personId}`}
                preventScrollReset
                aria-label={`What ${member.name} sees`}
              >
                As {member.name.split(" ")[0]} sees it
              </Link>
              <span className="ml-auto text-fine text-soft">
                {spanWords(member)} · {seenWords(member)}
              </span>
            </div>
            {mayEdit ? <ChangePart {...{ member, working, typed, problems, busy }} /> : null}
          </li>
        ))}
      </ul>
      {ended.length > 0 ? (
        <details className="mt-2">
          <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
            Was in the circle ({ended.length})
          </summary>
          <ul>
            {ended.map((member) => (
              <li key={member.personId} className="flex flex-wrap gap-x-3 py-1 text-soft">
                <span dir="auto">{member.name}</span>
                <span>{circlePartWords[member.circleRole]}</span>
                <span className="text-fine">{spanWords(member)}</span>
              </li>
            ))}
          </ul>
        </details>
      ) : null}
    </section>
  );
}

function Add({
  data: { others, today, student },
  typed,
  problems,
  busy,
}: {
  data: LoaderData;
  typed: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
  busy: boolean;
}) {
  const isOurs = typed === undefined || typed["intent"] === "add";
  return (
    <section aria-labelledby="add" className="no-print">
      <h2 id="add" className="text-lg font-bold">
        Add to the circle
      </h2>
      {others.length === 0 ? (
        <p className="mt-1 text-soft">
          Everyone on the staff list is in the circle of {student.name}.{" "}
          <Link className="link" to="/school/staff">
            Staff
          </Link>
        </p>
      ) : (
        <KeptForm draft="add" method="post" className="mt-1 grid gap-3" preventScrollReset noValidate>
          <PickPeople people={others} problem={isOurs ? problems["people"] : undefined} />
          <GivenPartFields {...{ today, typed: isOurs ? typed : undefined, problems }} />
          <button className="btn btn-primary w-fit" name="intent" value="add" disabled={busy}>
            Add
          </button>
        </KeptForm>
      )}
    </section>
  );
}

const acts = {
  added: "was added",
  changed: "was given another part or last day",
  ended: "was taken out",
  "handed over": "took over",
  muted: "is sent no messages about this student",
  unmuted: "is sent messages about this student again",
} as const;

/** The people around one student: who they are, what each may do, and until when. */
export default function Circle({ loaderData, actionData }: Route.ComponentProps) {
  const { student, mayEdit, mayReadAccess, mayReadRights, isInside, table, as, changes } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-base-300 pb-2">
        <PageTitle title="Circle" of={student.initials}>
          The circle of {student.name}
        </PageTitle>
        <nav aria-label="About the record" className="ml-auto flex flex-wrap gap-x-5">
          {mayReadRights ? (
            <Link className="link" to={`/students/${student.studentId}/rights`}>
              Requests and holds
            </Link>
          ) : null}
          {mayReadAccess ? (
            <Link className="link" to={`/students/${student.studentId}/access`}>
              Access record
            </Link>
          ) : null}
          {isInside ? (
            <Link className="link" to={`/students/${student.studentId}`}>
              Goals
            </Link>
          ) : null}
        </nav>
        {isInside ? null : (
          <p className="basis-full text-fine text-soft">
            You see the circle as an administrator, and nothing of the record.
          </p>
        )}
      </header>
      <FormProblem>{problems["form"]}</FormProblem>
      <div
        className={
          mayEdit ? "grid grid-cols-1 gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_20rem]" : "max-w-3xl"
        }
      >
        <div className="min-w-0">
          {as ? <AsSeenBy {...{ as, student }} /> : null}
          <Members {...{ data: loaderData, typed, problems, busy }} />
          <WhoMay table={table} />
          <details className="mt-2">
            <summary className="w-fit cursor-pointer py-1 text-lg font-bold">History</summary>
            {changes.length === 0 ? (
              <p className="text-soft">Nothing was changed since the circle is recorded here.</p>
            ) : (
              <ol>
                {changes.map(({ act, person, by, on, time }, at) => (
                  <li key={at} className="flex flex-wrap gap-x-3 border-b border-base-300 py-1">
                    <span className="text-fine text-soft">
                      {dateWithYear(on)}, {timeOfDay(time)}
                    </span>
                    <span dir="auto">
                      {person} {acts[act]}
                      {by ? `, by ${by}` : ""}.
                    </span>
                  </li>
                ))}
              </ol>
            )}
          </details>
        </div>
        {mayEdit ? <Add {...{ data: loaderData, typed, problems, busy }} /> : null}
      </div>
    </main>
  );
}
