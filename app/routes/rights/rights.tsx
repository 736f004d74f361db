import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { v7 as newId } from "uuid";
import { recordKinds } from "#core/retention/record-kinds.ts";
import { rightsKinds, type RightsOutcome, rightsOutcomes } from "#core/retention/rights-request.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import {
  cancelErasure,
  endHold,
  listErasures,
  listHolds,
  planErasure,
  readErasingState,
  setHold,
  soonestErasing,
  toldHow,
} from "#server/db/retention.ts";
import {
  addParentStatement,
  endRightsRequest,
  listParentStatements,
  listRightsRequests,
  noteRightsRequest,
  withdrawParentStatement,
} from "#server/db/rights.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { date, id, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { Erasing, Holds } from "./erasing.tsx";
import { ParentStatements } from "./parent-statements.tsx";
import { Requests } from "./requests.tsx";
import type { Route } from "./+types/rights";

export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  return authorize(request, context, "rights.read", studentId, async (scope) => {
    const { name, initials } = await findStudent(scope, studentId);
    const { actor, circleRole, today } = scope;
    const mayState = may(actor, "parent-statement.write", { circleRole });
    return {
      student: { studentId, name, initials },
      today,
      isInside: circleRole !== null,
      requests: await listRightsRequests(scope, studentId),
      statements: mayState ? await listParentStatements(scope, studentId) : null,
      goals: mayState
        ? (await listGoals(scope, studentId)).map(({ goalId, number, title }) => ({
            ...{ goalId, name: `${number} ${title}` },
          }))
        : [],
      holds: await listHolds(scope, studentId),
      state: await readErasingState(scope, studentId),
      erasures: await listErasures(scope, studentId),
      mayErase: may(actor, "record.erase", { circleRole }),
      soonest: soonestErasing(today),
      ids: { request: newId(), statement: newId(), hold: newId(), erasure: newId() },
    };
  });
}

type Params = Submitted<{ studentId: string }>;
const back = (studentId: string) => redirect(`/students/${studentId}/rights`);
const future = "This day has not come yet.";
const outcomes = Object.values(rightsOutcomes).flat() as [RightsOutcome, ...RightsOutcome[]];

const notingRequest = intent({
  permission: "rights.edit",
  schema: z.object({
    requestId: id,
    kind: z.enum(rightsKinds),
    byWhom: text(200, "Say who asks."),
    words: z._default(z.string().check(z.trim(), z.maxLength(2000, "At most 2000 characters.")), ""),
    receivedOn: date,
  }),
  async run(scope, values, { params: { studentId }, wrong }: Params) {
    if (values.receivedOn > scope.today) return wrong({ receivedOn: future });
    await noteRightsRequest(scope, { ...values, studentId });
    return back(studentId);
  },
});

const endingRequest = intent({
  permission: "rights.edit",
  schema: z.object({
    requestId: id,
    outcome: z.enum(outcomes, "Choose what became of it."),
    outcomeWords: optionalText(1000),
  }),
  async run(scope, { requestId, outcome, outcomeWords: words }, { params: { studentId } }: Params) {
    await endRightsRequest(scope, studentId, { requestId, outcome, words });
    return back(studentId);
  },
});

const stating = intent({
  permission: "parent-statement.write",
  schema: z.object({
    statementId: id,
    about: z.union([z.enum(["record", "incidents"]), id]),
    statementBy: text(200, "Say whose statement it is."),
    statementOn: date,
    statementWords: text(5000, "Write their statement."),
  }),
  async run(scope, values, { params: { studentId }, wrong }: Params) {
    const {
      statementId,
      about,
      statementBy: byWhom,
      statementOn: receivedOn,
      statementWords: words,
    } = values;
    if (receivedOn > scope.today) return wrong({ statementOn: future });
    const part = about === "record" || about === "incidents" ? about : "goal";
    await addParentStatement(scope, studentId, {
      ...{ statementId, part, goalId: part === "goal" ? about : null, byWhom, words, receivedOn },
    });
    return back(studentId);
  },
});

const withdrawing = intent({
  permission: "parent-statement.write",
  schema: z.object({ statementId: id }),
  async run(scope, { statementId }, { params: { studentId } }: Params) {
    await withdrawParentStatement(scope, studentId, statementId);
    return back(studentId);
  },
});

const holding = intent({
  permission: "rights.edit",
  schema: z.object({ holdId: id, holdReason: text(500, "Say why the record is on hold.") }),
  async run(scope, { holdId, holdReason: reason }, { params: { studentId } }: Params) {
    await setHold(scope, studentId, { holdId, reason });
    return back(studentId);
  },
});

const endingHold = intent({
  permission: "rights.edit",
  schema: z.object({ holdId: id }),
  async run(scope, { holdId }, { params: { studentId } }: Params) {
    await endHold(scope, studentId, holdId);
    return back(studentId);
  },
});

const planning = intent({
  permission: "record.erase",
  schema: z.object({
    erasureId: id,
    keepsName: z.optional(z.literal("on")),
    why: z.enum(["years are over", "parents asked"]),
    toldOn: z
      .string()
      .check(z.refine((day) => date.safeParse(day).success, "On which day were they informed?")),
    toldHow: z.enum(toldHow),
    toldWhom: text(100, "Say who was informed, without a name."),
    plannedOn: date,
    initials: z.string().check(z.trim()),
  }),
  async run(scope, values, { params: { studentId }, typed, wrong }: Params) {
    const { initials, keepsName, ...plan } = values;
    const kinds = recordKinds.filter((kind) => typed[`kind.${kind}`] === "on");
    const student = await findStudent(scope, studentId);
    const problems = {
      ...(kinds.length === 0 ? { kinds: "Tick what is erased." } : {}),
      ...(initials === student.initials
        ? {}
        : { initials: `Type ${student.initials} to make sure that it is this student` }),
    };
    if (Object.keys(problems).length > 0) return wrong(problems);
    await planErasure(scope, { ...plan, studentId, kinds, keepsName: keepsName === "on" });
    return back(studentId);
  },
});

const cancelling = intent({
  permission: "record.erase",
  schema: z.object({ erasureId: id }),
  async run(scope, { erasureId }, { params: { studentId } }: Params) {
    await cancelErasure(scope, studentId, erasureId);
    return back(studentId);
  },
});

export const action = defineIntents({
  permission: "rights.read",
  intents: {
    ...{ "note request": notingRequest, "end request": endingRequest },
    ...{ "add statement": stating, withdraw: withdrawing },
    ...{ "set hold": holding, "end hold": endingHold },
    ...{ "plan erasing": planning, "cancel erasing": cancelling },
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** What parents ask by right, what they stated, holds, and for how long the record is stored. */
export default function Rights({ loaderData, actionData }: Route.ComponentProps) {
  const { student, today, isInside, requests, statements, goals, holds, ids, mayErase } = loaderData;
  const { state, erasures, soonest } = loaderData;
  const sent = useForm(actionData);
  const { studentId } = student;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="flex flex-wrap items-start justify-between gap-3 border-b border-base-300 pb-4">
        <div>
          <PageTitle title="Requests and holds" of={student.initials} />
          <p className="text-soft" dir="auto">
            {student.name}
          </p>
        </div>
        <div className="no-print flex flex-wrap gap-2">
          {isInside ? (
            <Link className="btn btn-plain" to={`/students/${studentId}/access`}>
              Access record
            </Link>
          ) : null}
          <Link className="btn btn-plain" to={`/students/${studentId}/circle`}>
            Circle
          </Link>
        </div>
      </header>
      <Requests newId={ids.request} {...{ requests, today, studentId, isInside, sent }} />
      {statements ? (
        <ParentStatements newId={ids.statement} {...{ statements, goals, today, studentId, sent }} />
      ) : null}
      <Holds newId={ids.hold} {...{ holds, studentId, sent }} />
      <Erasing newId={ids.erasure} {...{ student, state, erasures, mayErase, soonest, today, sent }} />
    </main>
  );
}
