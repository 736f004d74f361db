import { Link, redirect } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import { keptUntil } from "#core/retention/kept-until.ts";
import { recordKinds, type RetentionRules } from "#core/retention/record-kinds.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readEditionYears } from "#server/db/audiences.ts";
import { listErasures, listLeft, readRetention, saveRetention } from "#server/db/retention.ts";
import { listOpenRequests } from "#server/db/rights.ts";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { Field, fieldProps, FormProblem } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { OpenRequests } from "../rights/open-requests.tsx";
import { Erasures } from "../rights/erasures.tsx";
import { recordKindNames, recordKindsListed } from "../rights/rights-words.ts";
import type { Route } from "./+types/retention";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "retention.read", null, async (scope) => {
    const rules = await readRetention(scope);
    return {
      today: scope.today,
      mayEdit: may(scope.actor, "retention.edit", { circleRole: null }),
      rules,
      editionYears: await readEditionYears(scope),
      left: (await listLeft(scope)).map((one) => ({ ...one, until: keptUntil(one.leftOn, rules) })),
      requests: await listOpenRequests(scope),
      erasures: (await listErasures(scope)).filter(({ state }) => state !== "cancelled"),
    };
  });
}

export const action = defineForm({
  permission: "retention.edit",
  async run(scope, { typed, wrong }) {
    const rules: RetentionRules = {};
    const problems: Record<string, string> = {};
    for (const kind of recordKinds) {
      const years = (typed[`years.${kind}`] ?? "").trim();
      const source = (typed[`source.${kind}`] ?? "").trim();
      if (years === "") {
        if (source !== "") problems[`years.${kind}`] = "For how many years?";
      } else if (!/^(\d{1,2}|100)$/.test(years))
        problems[`years.${kind}`] = "Write a whole number of years, 0 to 100.";
      else if (source === "") problems[`source.${kind}`] = "Name the rule, so that others can look it up.";
      else if (source.length > 300) problems[`source.${kind}`] = "At most 300 characters.";
      else rules[kind] = { years: Number(years), source };
    }
    if (Object.keys(problems).length > 0) return wrong(problems);
    await saveRetention(scope, rules);
    return redirect("/school/retention");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type LoaderData = Route.ComponentProps["loaderData"];

function RulesForm({ rules, sent }: Pick<LoaderData, "rules"> & { sent: ReturnType<typeof useForm> }) {
  const field = fieldProps(sent.typed, sent.problems);
  return (
    <KeptForm draft="retention" method="post" noValidate>
      <FormProblem>{sent.problems["form"]}</FormProblem>
      <ul>
        {recordKinds.map((kind) => (
          <li
            key={kind}
            className="grid grid-cols-1 items-start gap-x-4 gap-y-1 border-t border-base-300 py-2 sm:grid-cols-[minmax(0,1fr)_6rem_minmax(0,1.2fr)]"
          >
            <p>
              <b>{recordKindNames[kind].name}</b>
              <span className="block text-fine text-soft">{recordKindNames[kind].holds}</span>
            </p>
            <Field
              label="Years"
              {...field(`years.${kind}`, rules[kind]?.years.toString())}
              inputMode="numeric"
              maxLength={3}
              aria-label={`Years, ${recordKindNames[kind].name}`}
            />
            <Field
              label="By which rule"
              {...field(`source.${kind}`, rules[kind]?.source)}
              maxLength={300}
              dir="auto"
              aria-label={`By which rule, ${recordKindNames[kind].name}`}
            />
          </li>
        ))}
      </ul>
      <SaveBar busy={sent.busy}>Save the rules</SaveBar>
    </KeptForm>
  );
}

function RulesList({ rules }: Pick<LoaderData, "rules">) {
  return (
    <ul>
      {recordKinds.map((kind) => {
        const rule = rules[kind];
        return (
          <li key={kind} className="flex flex-wrap gap-x-4 border-t border-base-300 py-1.5">
            <b className="w-44">{recordKindNames[kind].name}</b>
            <span>{rule ? `${rule.years} years (${rule.source})` : "no rule is set"}</span>
          </li>
        );
      })}
    </ul>
  );
}

const heading = "font-serif text-[1.35rem] font-semibold";

function Left({ left, today }: Pick<LoaderData, "left" | "today">) {
  return (
    <section aria-labelledby="left">
      <h2 id="left" className={heading}>
        Left the school
      </h2>
      {left.length === 0 ? (
        <p className="text-soft">
          Nobody yet. A student leaves with the date under Details, or when the school changes to the next
          year.
        </p>
      ) : (
        <ul className="mt-1">
          {left.map(({ studentId, name, leftOn, until, holds, openRequests }) => {
            const due = recordKinds.filter((kind) => (until[kind] ?? "9999") < today);
            return (
              <li
                key={studentId}
                className="flex flex-wrap items-baseline gap-x-4 border-t border-base-300 py-2"
              >
                <Link className="link font-bold" to={`/students/${studentId}/rights`} dir="auto">
                  {name}
                </Link>
                <span>left {dateWithYear(leftOn)}</span>
                {holds > 0 ? <b>on hold</b> : null}
                {openRequests > 0 ? <b>request open</b> : null}
                <span className="text-soft">
                  {due.length > 0
                    ? `years are over: ${recordKindsListed(due)}`
                    : until.record
                      ? `stored until ${dateWithYear(until.record)}`
                      : "no rule says how long"}
                </span>
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}

function Erased({ erasures }: Pick<LoaderData, "erasures">) {
  return (
    <section aria-labelledby="erased" className="mt-8">
      <h2 id="erased" className={heading}>
        Erased, and to be erased
      </h2>
      {erasures.length === 0 ? <p className="text-soft">Nothing.</p> : null}
      <Erasures erasures={erasures}>
        {({ studentId }) => (
          <Link className="link" to={`/students/${studentId}/rights`}>
            Look at it, or cancel it
          </Link>
        )}
      </Erasures>
    </section>
  );
}

/** For how long the school keeps which records, who left, which requests are open, and what was erased. */
export default function Retention({ loaderData, actionData }: Route.ComponentProps) {
  const { mayEdit, rules, left, today, requests, erasures, editionYears } = loaderData;
  const sent = useForm(actionData);
  return (
    <div className="max-w-[60rem]">
      <PageTitle title="Retention" className="sr-only" />
      <OpenRequests requests={requests} today={today} />
      <section aria-labelledby="rules" className="mb-8">
        <h2 id="rules" className={heading}>
          For how long records are stored
        </h2>
        <p className="mb-2 max-w-[46rem] text-soft">
          Years after a student left. Each state has its own rules, and nothing is set here before your school
          sets it. Nothing is erased by itself: when the years are over, an administrator plans it.{" "}
          {editionYears === null
            ? "Editions have no years of their own (School, Lists)."
            : `Editions are removed after ${editionYears} years by a command of the server (School, Lists).`}{" "}
          The access record is stored as long as the record.
        </p>
        {mayEdit ? <RulesForm {...{ rules, sent }} /> : <RulesList rules={rules} />}
      </section>
      <Left {...{ left, today }} />
      <Erased erasures={erasures} />
    </div>
  );
}
