import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useCallback, useEffect, useEffectEvent, useRef, useState } from "react";
import { KeptForm, ownDraft, useKeptForm } from "#app/kit/kept-form.tsx";
import { partOf } from "#app/kit/tab-draft.ts";
import { useDraft } from "#app/kit/use-draft.ts";
import * as z from "zod/mini";
import { Form, Link, redirect, useLocation } from "react-router";
import { choiceLists } from "#core/model/choice-lists.ts";
import { beganSchema, chosenSchema, detailsSchema } from "#core/model/incident-content.ts";
import { incidentLine, lengthWords } from "#core/report/incident-line.ts";
import { listed } from "#core/words/lists.ts";
import { dateWithYear, shortDate, timeOfDay } from "#core/words/dates.ts";
import { cleanJson } from "#server/web/clean.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { may } from "#server/access/table.ts";
import { readTimetable } from "#server/db/calendar.ts";
import { listChoices, offeredIn } from "#server/db/choices.ts";
import { listColleagues } from "#server/db/handovers.ts";
import { readIncidentSettings, readStarters } from "#server/db/incident-settings.ts";
import { findIncident, listIncidentRevisions, listNear } from "#server/db/incident-lists.ts";
import type { Incident } from "#core/model/incident.ts";
import { changeIncidentState, correctIncident, tellApart } from "#server/db/incidents.ts";
import { findStudent } from "#server/db/students.ts";
import type { IncidentFacts } from "#app/recording/incident/draft.ts";
import {
  IncidentFields,
  type IncidentSchool,
  type IncidentStudent,
} from "#app/recording/incident/incident-fields.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { SameOne } from "./same-one.tsx";
import { id, optionalText } from "#app/ui/form-data.ts";
import { CorrectionEnd, History, isTold, Removed } from "../student/line-page.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/incident";

/** What the team sees of an incident beside its sentence; a guess at a reason is named as one. */
function factsOf({ names, details, on, at, period }: Incident, adults: ReadonlyMap<string, string>) {
  const { functions, length, intensity, peers, harm, resolvedMinutes } = details;
  const facts: (readonly [label: string, value: string])[] = [
    ["When", [dateWithYear(on), at ?? period ?? "time not known"].join(", ")],
    ["Where", listed(names.setting)],
    ["Just before", listed(names.antecedent)],
    ["Did", listed(names.behavior)],
    ["Right after", listed(names.consequence)],
    ["That day", listed(names["setting event"])],
    ["How long", length ? lengthWords(length) : ""],
    ["How strong", intensity === null ? "" : `${intensity} of 5`],
    ["Resolved after", resolvedMinutes === null ? "" : `${resolvedMinutes} min`],
    ["Thought at the time to be for", listed(functions)],
    ["Adults", listed(details.adults.flatMap((one) => adults.get(one) ?? []))],
    [
      "Other students",
      peers === 0 ? "" : listed(Array.from("ABCDEF".slice(0, peers), (one) => `peer ${one}`)),
    ],
    ...harm.facts.map(({ asked, said }) => [asked, said] as const),
  ];
  return facts.filter(([, value]) => value !== "");
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "incident.read", studentId, async (scope) => {
    const incident = await findIncident(
      scope,
      studentId,
      isId(params.incidentId) ? params.incidentId : notFound(),
    );
    const student = await findStudent(scope, studentId);
    const own = await listChoices(scope, studentId);
    const starters = await readStarters(scope);
    const incidents = await readIncidentSettings(scope);
    const colleagues = await listColleagues(scope);
    const mayRecord = may(scope.actor, "incident.record", { circleRole: scope.circleRole });
    const chosen = Object.fromEntries(
      choiceLists.map((list) => [
        list,
        (incident.choices[list] ?? []).flatMap((choiceId) => {
          const found = own.find((one) => one.choiceId === choiceId);
          return found ? [{ choiceId, name: found.name, ...(found.once ? { once: true } : {}) }] : [];
        }),
      ]),
    ) as IncidentFacts["chosen"];
    const facts: IncidentFacts = {
      began:
        incident.at !== null
          ? { as: "time", local: `${incident.on}T${incident.at}` }
          : incident.period !== null
            ? { as: "period", on: incident.on, period: incident.period }
            : { as: "day", on: incident.on },
      clock: null,
      chosen,
      details: incident.details,
      note: incident.note ?? "",
    };
    return {
      ...{ facts, revision: incident.revision, state: incident.state, ongoing: incident.ongoing },
      ...{ author: incident.author, sameAs: incident.sameAs, factsMissing: incident.factsMissing },
      now: scope.now.getTime(),
      when: `${shortDate(incident.on)}, ${incident.at ? timeOfDay(incident.at) : (incident.period ?? "time not known")}`,
      line: incidentLine(incident),
      told: factsOf(incident, new Map(colleagues.map(({ personId, name }) => [personId, name]))),
      history: (await listIncidentRevisions(scope, studentId, incident.incidentId)).map(
        ({ told, ...step }) => ({ ...step, ...incidentLine(told) }),
      ),
      near: mayRecord ? await listNear(scope, studentId, incident.incidentId) : [],
      mayTellApart:
        incident.sameAs !== null &&
        may(scope.actor, "incident.join", {
          circleRole: scope.circleRole,
          authorId: [incident.authorId, (await findIncident(scope, studentId, incident.sameAs)).authorId],
        }),
      mayChange: may(scope.actor, "incident.correct", {
        circleRole: scope.circleRole,
        authorId: incident.authorId,
      }),
      student: {
        studentId: student.studentId,
        screenName: student.calledName,
        asksWhy: incidents.whyAsked === "of everyone" || scope.circleRole === "lead",
        choices: choiceLists.flatMap((list) => offeredIn(studentId, list, own, starters)),
      },
      school: {
        timeZone: scope.timeZone,
        timetable: await readTimetable(scope),
        incidents,
        colleagues,
      },
    };
  });
}

const revision = z.coerce.number().check(z.int(), z.gte(1));
const writtenSchema = z.object({
  began: beganSchema,
  chosen: chosenSchema,
  details: detailsSchema,
  ongoing: z.boolean(),
  note: z.string().check(z.maxLength(2000)),
});
const stateForm = z.object({ revision, reason: optionalText(500) });
const correctForm = z.extend(stateForm, { written: z.string() });
const joinForm = z.object({ otherId: id, back: z.optional(z.literal("list")) });

/** @param cleaned what is done to the value before it is read: the server takes out what no database keeps */
function readWritten(text: string, cleaned = (value: unknown) => value) {
  try {
    return writtenSchema.safeParse(cleaned(JSON.parse(text)));
  } catch {
    return writtenSchema.safeParse(null);
  }
}

interface IncidentParams {
  studentId: string;
  incidentId: string;
}
type Sent = Submitted<IncidentParams>;

const idsOf = ({ studentId, incidentId }: IncidentParams): IncidentParams => ({
  studentId,
  incidentId: isId(incidentId) ? incidentId : notFound(),
});
const pageOf = ({ studentId, incidentId }: IncidentParams) =>
  `/students/${studentId}/incidents/${incidentId}`;

const tell = (same: boolean) =>
  intent({
    schema: joinForm,
    permission: "incident.record",
    async run(scope, { otherId, back }, { params, wrong }: Sent) {
      const ids = idsOf(params);
      const outcome = await tellApart(scope, { ...ids, otherId }, same);
      if (outcome === "conflict") return wrong({ form: otherIsAnAccount }, 409);
      return redirect(back === "list" ? `/students/${ids.studentId}/incidents` : pageOf(ids));
    },
  });

const changeState = (state: "kept" | "removed") =>
  intent({
    schema: stateForm,
    async run(scope, { revision, reason }, { params, wrong }: Sent) {
      const ids = idsOf(params);
      const change = { expectedRevision: revision, reason };
      const outcome = await changeIncidentState(scope, ids, change, state);
      return outcome === "conflict" ? wrong({ form: changedMeanwhile }, 409) : redirect(pageOf(ids));
    },
  });

const correct = intent({
  schema: correctForm,
  async run(scope, { revision, reason, written: text }, { params, wrong }: Sent) {
    const ids = idsOf(params);
    const written = readWritten(text, cleanJson);
    if (!written.success)
      return wrong({ form: written.error.issues[0]?.message ?? "This cannot be read. Please look again." });
    const { began, chosen, details, ongoing, note } = written.data;
    if (began.as === "moment") return wrong({ form: "Say when it began." });
    const now = scope.localNow;
    if ((began.as === "time" ? began.local : began.on) > (began.as === "time" ? now : now.slice(0, 10)))
      return wrong({ form: "It cannot have begun after now. Check the day and the time." });
    const stands = await findIncident(scope, ids.studentId, ids.incidentId);
    const change = { expectedRevision: revision, reason };
    const outcome = await correctIncident(scope, ids, change, {
      time: began.as === "time" ? began : { period: null, ...began },
      ...{ chosen, details, ongoing, observerId: stands.observerId },
      note: note.trim() || null,
    });
    if (outcome === "conflict") return wrong({ form: changedMeanwhile }, 409);
    return redirect(`${pageOf(ids)}?saved=${ids.incidentId}`);
  },
});

const otherIsAnAccount =
  "The other incident is now joined with a third one. Open the third one, and join this incident with it.";

export const action = defineIntents({
  permission: "incident.correct",
  intents: {
    ...{ join: tell(true), apart: tell(false), correct },
    ...{ remove: changeState("removed"), restore: changeState("kept") },
  },
});

const changedMeanwhile =
  "This incident was changed in the meantime. The current version is shown above. Check it, then decide again.";

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** What was typed before an error, or what stands. */
function factsFrom(written: string | undefined, stands: IncidentFacts): IncidentFacts {
  const read = written === undefined ? null : readWritten(written);
  if (!read?.success || read.data.began.as === "moment") return stands;
  return { ...read.data, began: read.data.began, clock: null };
}

function ongoingIn(written: string | undefined): boolean {
  const read = written === undefined ? null : readWritten(written);
  return read?.success === true && read.data.ongoing;
}

function Correction({
  revision: stands,
  stands: before,
  wasOngoing,
  unfinished,
  student,
  school,
  now,
  typed,
  problems,
  busy,
}: {
  revision: number;
  stands: IncidentFacts;
  wasOngoing: boolean;
  unfinished: boolean;
  student: IncidentStudent;
  school: IncidentSchool;
  now: number;
  typed: Record<string, string> | undefined;
  problems: Record<string, string>;
  busy: boolean;
}) {
  const [begunWith] = useState(stands);
  return (
    <details
      className="no-print mt-6 border-t border-base-300 pt-3"
      open={unfinished || Object.keys(problems).length > 0}
    >
      <summary className="min-h-11 cursor-pointer py-2 text-lg font-bold">
        {unfinished ? "Finish it" : "Correct or remove it"}
      </summary>
      <KeptForm draft="correct" method="post" className="mt-2 grid gap-4" noValidate>
        <noscript>
          <p>Correcting an incident needs scripts, which this browser has switched off.</p>
        </noscript>
        <input type="hidden" name="revision" value={begunWith} />
        {begunWith === stands ? null : (
          <p role="status" className="rounded-lg bg-arrival px-4 py-2">
            This incident was changed while you were here. The current version is above; your text is still
            below.
          </p>
        )}
        <Written {...{ before, wasOngoing, student, school, now, typed }} />
        <CorrectionEnd reasonName="reason" what="incident" typed={typed} problems={problems} busy={busy} />
      </KeptForm>
    </details>
  );
}

/** What an account says, to be changed: a draft of its own, since its touches are no fields. */
function Written({
  before,
  wasOngoing,
  student,
  school,
  now,
  typed,
}: {
  before: IncidentFacts;
  wasOngoing: boolean;
  student: IncidentStudent;
  school: IncidentSchool;
  now: number;
  typed: Record<string, string> | undefined;
}) {
  const { name, goesOn } = useKeptForm();
  const place = useRef<HTMLDivElement>(null);
  const [begun] = useState(() => ({
    facts: factsFrom(typed?.["written"], before),
    ongoing: typed ? ongoingIn(typed["written"]) : wasOngoing,
  }));
  const isTyped = useCallback(
    (content: typeof begun) => JSON.stringify(content) !== JSON.stringify(begun),
    [begun],
  );
  const { content, setContent, continued } = useDraft(partOf(name ?? "", "written"), begun, {
    reads(left) {
      const { facts = null, ongoing = false } = { ...(left as Partial<typeof begun> | null) };
      return facts === null
        ? null
        : { facts: factsFrom(JSON.stringify({ ...facts, ongoing }), before), ongoing };
    },
    isTyped,
  });
  const sayContinued = useEffectEvent(() => {
    goesOn();
    place.current?.closest("details")?.setAttribute("open", "");
  });
  useEffect(() => {
    if (continued) sayContinued();
  }, [continued]);
  const { facts, ongoing } = content;
  const { began, chosen, details, note } = facts;
  return (
    <div ref={place} className="grid gap-4" {...ownDraft}>
      <input type="hidden" name="written" value={JSON.stringify({ began, chosen, details, ongoing, note })} />
      {wasOngoing ? (
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-primary"
            checked={ongoing}
            onChange={({ target }) => setContent({ facts, ongoing: target.checked })}
          />
          It is still going on
        </label>
      ) : null}
      <IncidentFields
        // A draft that is continued opens the part in which something stands.
        key={continued ? "continued" : "fresh"}
        facts={facts}
        student={student}
        school={school}
        now={now}
        clocked={false}
        onChange={(part) => setContent((then) => ({ ...then, facts: { ...then.facts, ...part } }))}
      />
    </div>
  );
}

/** One incident: its sentence, its facts, other accounts of it, its correction and its history. */
export default function IncidentPage({ loaderData, actionData, params }: Route.ComponentProps) {
  const { line, told, when, author, sameAs, state, near, history, mayChange, mayTellApart, factsMissing } =
    loaderData;
  const { revision: stands, student, school } = loaderData;
  const { key: place } = useLocation();
  const { busy, problems, typed } = useForm(actionData);
  const removed = state === "removed";
  return (
    <section aria-label="Incident" className="py-5">
      <StudentTitle title={`Incident of ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/incidents`}>
          Incidents
        </Link>{" "}
        · {when} · {author}
      </p>
      <p
        className={`mt-2 max-w-3xl font-serif text-xl leading-relaxed ${removed ? "text-soft line-through" : ""}`}
        dir="auto"
      >
        {line.sentence} {line.note}
      </p>
      <dl className="mt-3 grid max-w-2xl grid-cols-[max-content_1fr] gap-x-6 gap-y-1 text-[0.9375rem]">
        {told.map(([label, value]) => (
          <div key={label} className="contents">
            <dt className="text-soft">{label}</dt>
            <dd dir="auto">{value}</dd>
          </div>
        ))}
      </dl>
      {factsMissing.length > 0 && !removed ? (
        <p className="mt-3 max-w-3xl rounded-lg bg-arrival px-4 py-2">
          <b>Facts missing:</b> {factsMissing.join("; ")}. The incident stays on Today until they are written
          {mayChange ? " below" : ""}.
        </p>
      ) : null}
      {sameAs ? (
        <Form
          method="post"
          className="mt-3 flex max-w-3xl flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2"
        >
          <p className="flex-1">
            Another account of{" "}
            <Link className="link" to={`/students/${params.studentId}/incidents/${sameAs}`}>
              the same incident
            </Link>
            : counted there, read here.
          </p>
          <input type="hidden" name="otherId" value={sameAs} />
          {mayTellApart ? (
            <button className="btn btn-plain btn-sm" name="intent" value="apart" disabled={busy}>
              They are two
            </button>
          ) : null}
        </Form>
      ) : null}
      {near.map((other) => (
        <SameOne
          key={other.incidentId}
          {...{ studentId: params.studentId, incidentId: params.incidentId, otherId: other.incidentId }}
        >
          {other.by} wrote down{" "}
          <Link className="link" to={`/students/${params.studentId}/incidents/${other.incidentId}`}>
            one at {other.at}
          </Link>
          . Is it the same one?
        </SameOne>
      ))}
      <FormProblem>{problems["form"] ?? problems["revision"]}</FormProblem>
      {removed ? (
        <Removed
          mayChange={mayChange}
          busy={busy}
          hidden={<input type="hidden" name="revision" value={stands} />}
        >
          This incident is removed: it does not count and does not appear in the report.
        </Removed>
      ) : null}
      {mayChange && !removed ? (
        // Keyed by scope and answer, so that changes of others do not reset what is being typed.
        <Correction
          key={place}
          {...{ revision: stands, student, school, typed, problems, busy }}
          stands={loaderData.facts}
          wasOngoing={loaderData.ongoing}
          unfinished={loaderData.ongoing || factsMissing.length > 0}
          now={loaderData.now}
        />
      ) : null}
      {isTold(history) ? <History steps={history} /> : null}
    </section>
  );
}
