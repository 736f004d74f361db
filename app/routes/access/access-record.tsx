import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { v7 as newId } from "uuid";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import {
  letReadAccess,
  listAccess,
  listAccessReaders,
  noteOutsideRequest,
} from "#server/db/access-record.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { accessRecordDays } from "#core/words/event-acts.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EventList } from "#app/ui/event-list.tsx";
import { Field, fieldProps, FormProblem, Select } from "#app/ui/field.tsx";
import { date, id, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { eventKindNames, readEventFilter } from "./access-filter.ts";
import type { Route } from "./+types/access-record";

const pageSize = 60;
/** So many of each half are shown together. */
const few = 15;

export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  const filter = readEventFilter(search);
  return authorize(request, context, "access-record.read", studentId, async (scope) => {
    const { name, initials } = await findStudent(scope, studentId);
    const half = (outside: boolean, limit: number) =>
      listAccess(scope, studentId, { ...filter, outside }, limit + 1);
    const isWhole = filter.outside !== undefined;
    const limit = isWhole ? pageSize : few;
    const halves = isWhole
      ? [await half(filter.outside ?? true, limit)]
      : [await half(true, limit), await half(false, limit)];
    return {
      student: { studentId, name, initials },
      chosen: {
        ...{ who: search.get("who") ?? "", kind: filter.kind ?? "" },
        ...{ from: filter.from ?? "", to: filter.to ?? "", isLater: filter.before !== undefined },
      },
      halves: halves.map((lines, at) => ({
        outside: isWhole ? (filter.outside ?? true) : at === 0,
        lines: lines.slice(0, limit),
        more: lines.length > limit ? (lines[limit - 1]?.place ?? null) : null,
      })),
      guardians: await listAccessReaders(scope, studentId),
      ...{ requestId: newId(), today: scope.today },
    };
  });
}

type Params = Submitted<{ studentId: string }>;

const noting = intent({
  permission: "access-record.read",
  schema: z.object({
    requestId: id,
    kind: z.enum(["given", "refused"]),
    requestedOn: date,
    byWhom: text(200, "Say who asked."),
    what: text(300, "Say what was asked for or given."),
    interest: text(500, "Say for what they need it, in their words."),
  }),
  async run(scope, values, { params: { studentId }, wrong }: Params) {
    if (values.requestedOn > scope.today) return wrong({ requestedOn: "This day has not come yet." });
    await noteOutsideRequest(scope, { ...values, studentId });
    return redirect(`/students/${studentId}/access?who=outside`);
  },
});

const letting = (reads: boolean) =>
  intent({
    permission: "family.edit",
    schema: z.object({ guardianId: id }),
    async run(scope, { guardianId }, { params: { studentId } }: Params) {
      if (!(await letReadAccess(scope, studentId, { guardianId, reads }))) notFound();
      return redirect(`/students/${studentId}/access`);
    },
  });

export const action = defineIntents({
  permission: "access-record.read",
  intents: { "note a request": noting, "let read": letting(true), "end reading": letting(false) },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const kinds = ["saw", "took", "received", "record", "people", "refused"] as const;
const halfNames = { outside: "Outside the school’s staff", staff: "Staff of the school" };

function Choices({ chosen }: Pick<Route.ComponentProps["loaderData"], "chosen">) {
  return (
    <ChoicesForm
      label="Which lines"
      className="no-print mt-4 grid max-w-[64rem] grid-cols-1 gap-3 sm:grid-cols-2 lg:grid-cols-4"
    >
      <Select
        label="Who"
        name="who"
        defaultValue={chosen.who}
        options={[
          ["", "Both"],
          ["outside", halfNames.outside],
          ["staff", halfNames.staff],
        ]}
      />
      <Select
        label="What"
        name="kind"
        defaultValue={chosen.kind}
        options={[["", "Everything"], ...kinds.map((kind) => [kind, eventKindNames[kind]] as const)]}
      />
      <Field label="From" name="from" type="date" defaultValue={chosen.from} />
      <Field label="To" name="to" type="date" defaultValue={chosen.to} />
    </ChoicesForm>
  );
}

function Readers({
  guardians,
  busy,
}: Pick<Route.ComponentProps["loaderData"], "guardians"> & { busy: boolean }) {
  return (
    <section aria-labelledby="readers" className="no-print mt-10 max-w-[46rem]">
      <h2 id="readers" className="font-serif text-[1.15rem] font-semibold">
        For the family to read
      </h2>
      <p className="text-soft">
        When a parent asks who saw the record, let them read it on their page, for {accessRecordDays} days.
        Names of staff are in it; what was changed is not.
      </p>
      {guardians.length === 0 ? <p className="mt-2">No guardian is set up for this student.</p> : null}
      <ul className="mt-2">
        {guardians.map(({ guardianId, name, relation, until }) => (
          <li
            key={guardianId}
            className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-base-300 py-2"
          >
            <span dir="auto">
              <b>{name}</b> {relation}
            </span>
            <span className="text-fine text-soft">
              {until === null ? "does not read it" : `reads it until ${dateWithYear(until)}`}
            </span>
            <Form method="post" className="ml-auto" preventScrollReset>
              <input type="hidden" name="guardianId" value={guardianId} />
              <button
                className="btn btn-plain btn-sm"
                name="intent"
                value={until === null ? "let read" : "end reading"}
                disabled={busy}
              >
                {until === null ? "Let read" : "End"}
                <span className="sr-only">: {name}</span>
              </button>
            </Form>
          </li>
        ))}
      </ul>
    </section>
  );
}

function NoteRequest({
  studentId,
  requestId,
  today,
  sent,
}: Pick<Route.ComponentProps["loaderData"], "requestId" | "today"> & {
  studentId: string;
  sent: ReturnType<typeof useForm>;
}) {
  const field = fieldProps(sent.typed, sent.problems);
  return (
    <section aria-labelledby="request" className="no-print mt-10 max-w-[46rem]">
      <h2 id="request" className="font-serif text-[1.15rem] font-semibold">
        Write down a request from outside
      </h2>
      <p className="text-soft">
        Anybody outside the school’s staff who asked for the record, or was given a part of it by another way
        than this application: a phone call, a copy on paper.
      </p>
      <KeptForm draft={`outside-request-${studentId}`} method="post" className="mt-3 grid gap-3" noValidate>
        <input type="hidden" name="requestId" value={requestId} />
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <Field label="Who asked" {...field("byWhom")} maxLength={200} dir="auto" />
          <Field label="On which day" {...field("requestedOn", today)} type="date" max={today} />
          <Field label="What they asked for" {...field("what")} maxLength={300} dir="auto" />
          <Select
            label="What became of it"
            {...field("kind", "given")}
            options={[
              ["given", "It was given"],
              ["refused", "It was refused"],
            ]}
          />
        </div>
        <Field
          label="What they need it for"
          {...field("interest")}
          maxLength={500}
          dir="auto"
          hint="The interest they claim, in their words."
        />
        <FormProblem>{sent.problems["form"]}</FormProblem>
        <button className="btn btn-primary w-fit" name="intent" value="note a request" disabled={sent.busy}>
          Write it down
        </button>
      </KeptForm>
    </section>
  );
}

/** Who saw, saved, received or changed a student's record, when and why. */
export default function AccessRecord({ loaderData, actionData }: Route.ComponentProps) {
  const { student, chosen, halves, guardians, requestId, today } = loaderData;
  const sent = useForm(actionData);
  const { who, kind, from, to, isLater } = chosen;
  const at = (more: Record<string, string>) =>
    `?${new URLSearchParams(Object.entries({ who, kind, from, to, ...more }).filter(([, value]) => value !== "")).toString()}`;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="flex flex-wrap items-start justify-between gap-3 border-b border-base-300 pb-4">
        <div>
          <PageTitle title="Access record" of={student.initials} />
          <p className="text-soft" dir="auto">
            {student.name}
          </p>
        </div>
        <div className="no-print flex flex-wrap gap-2">
          <a className="btn btn-plain" href={`/students/${student.studentId}/access.csv${at({})}`} download>
            Download
          </a>
          <button type="button" className="btn btn-plain with-scripts" onClick={() => window.print()}>
            Print
          </button>
          <Link className="btn btn-plain" to={`/students/${student.studentId}/circle`}>
            Circle
          </Link>
        </div>
      </header>
      <p className="mt-3 max-w-[46rem]">
        Who saw, saved, received or changed this record, when and why. A page that was looked at has one line
        an hour for each person. Nothing here can be changed or removed.
      </p>
      <Choices chosen={chosen} />
      {halves.map(({ outside, lines, more }) => (
        <section key={String(outside)} className="mt-8" aria-label={halfNames[outside ? "outside" : "staff"]}>
          <h2 className="font-serif text-[1.35rem] font-semibold">
            {halfNames[outside ? "outside" : "staff"]}
          </h2>
          {lines.length === 0 ? (
            <p className="mt-2 max-w-[46rem] text-soft">
              {outside
                ? "On these days nothing of this record was given to anybody outside the school’s staff, and nobody outside asked for it."
                : "Nothing on these days. Choose other days or “Everything”."}
            </p>
          ) : (
            <EventList lines={lines} links />
          )}
          <p className="no-print mt-3 flex gap-5">
            {isLater ? (
              <Link className="link" to={at({})}>
                Newest
              </Link>
            ) : null}
            {more === null ? null : (
              <Link
                className="link"
                to={at(who === "" ? { who: outside ? "outside" : "staff" } : { before: more })}
              >
                {who === "" ? `All of: ${halfNames[outside ? "outside" : "staff"]}` : "Older lines"}
              </Link>
            )}
          </p>
        </section>
      ))}
      <Readers guardians={guardians} busy={sent.busy} />
      <NoteRequest studentId={student.studentId} {...{ requestId, today, sent }} />
    </main>
  );
}
