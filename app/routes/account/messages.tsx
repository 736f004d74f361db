import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import {
  chosenKinds,
  type ChosenKind,
  chosenKindNames,
  type Way,
  wayOf,
} from "#core/dispatch/message-kinds.ts";
import { weekdayName } from "#core/dates/week.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { readOwnWishes, saveOwnWishes } from "#server/db/message-readers.ts";
import { listMessages } from "#server/db/message-lists.ts";
import { schoolMails } from "#server/db/mail-settings.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { typedTime } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { MessageLine } from "../dispatch/message-line.tsx";
import type { Route } from "./+types/messages";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "own-settings.keep", null, async (scope) => {
    const { choices, hours } = await readOwnWishes(scope);
    return {
      hours,
      ways: Object.fromEntries(chosenKindNames.map((kind) => [kind, wayOf(choices, kind)])),
      mails: context.mails === true || (await schoolMails(scope)),
      recent: (await listMessages(scope, { readerId: scope.actor.personId }, 5)).filter(
        ({ kind }) => kind !== "test",
      ),
    };
  });
}

const wayFields = Object.fromEntries(
  chosenKindNames.map((kind) => [kind, z.enum(chosenKinds[kind].ways, "Choose one.")]),
);

export const action = defineAction({
  permission: "own-settings.keep",
  schema: z.looseObject({
    ...wayFields,
    quiet: z.optional(z.literal("yes")),
    quietFrom: typedTime("When does it begin?"),
    quietTo: typedTime("When does it end?"),
    schoolDaysOnly: z.optional(z.literal("yes")),
    summaryAt: typedTime("At what time?"),
    summaryOn: z.enum(["1", "2", "3", "4", "5", "6", "7"]),
  }),
  async run(scope, values, { wrong }) {
    const { quiet, quietFrom, quietTo, schoolDaysOnly, summaryAt, summaryOn } = values;
    if (quiet && quietFrom === quietTo)
      return wrong({ quietTo: "Quiet hours end at another time than they begin." });
    const ways = values as unknown as Record<ChosenKind, Way>;
    await saveOwnWishes(scope, {
      choices: Object.fromEntries(chosenKindNames.map((kind) => [kind, ways[kind]])) as Record<
        ChosenKind,
        Way
      >,
      hours: {
        quiet: quiet ? { from: quietFrom ?? "18:00", to: quietTo ?? "07:00" } : null,
        ...{ schoolDaysOnly: schoolDaysOnly === "yes", summaryAt: summaryAt ?? "15:30" },
        summaryOn: Number(summaryOn),
      },
    });
    return redirect("/account/messages");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const kindLabels: Record<ChosenKind, [label: string, hint: string]> = {
  incident: ["New incidents", "Of an injury, restraint or seclusion you always hear at once."],
  entry: ["New entries", ""],
  jot: ["New jots", ""],
  finding: ["Something to look at", "A criterion reached, a goal behind its line, a pattern in incidents."],
  edition: ["A report was made", ""],
  statement: ["A progress statement to write", ""],
  question: ["A question from a family", "Of students whose circle you lead."],
  held: ["Late records to decide on", "Of students whose circle you lead."],
  due: ["Data due", "In the morning of a school day."],
};
const wayLabels: Record<Way, string> = {
  once: "At once",
  daily: "Once a day",
  weekly: "Once a week",
  off: "Not by e-mail",
};

/** Each way has its column, whichever ways a kind has. */
const columnOf: Record<Way, string> = {
  once: "md:col-start-1",
  daily: "md:col-start-2",
  weekly: "md:col-start-3",
  off: "md:col-start-4",
};

/** Which messages a person wants, and when. */
export default function OwnMessages({
  loaderData: { hours, ways, mails, recent },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed, field } = useForm(actionData);
  const isOn = (name: string, there: boolean) => (typed ? typed[name] === "yes" : there);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to="/account">
          My account
        </Link>
      </p>
      <header className="mb-4 border-b border-base-300 pb-2">
        <PageTitle title="Which messages I want" />
        <p className="text-soft">
          About students whose circle you are in. A message holds initials and a link. What you recorded
          yourself is not sent to you.
        </p>
      </header>
      <div className="max-w-4xl">
        {mails ? null : (
          <p className="mb-4 rounded-lg bg-base-200 px-4 py-2">
            No mail server is set here yet, so nothing is mailed. Your caseload shows the same.
          </p>
        )}
        <KeptForm draft="own-messages" method="post" className="grid grid-cols-1 gap-6" noValidate>
          <FormProblem>{problems["form"]}</FormProblem>
          <fieldset className="min-w-0">
            <legend className="text-lg font-bold">What, and how soon</legend>
            <div className="mt-1 grid grid-cols-1">
              {chosenKindNames.map((kind) => {
                const [label, hint] = kindLabels[kind];
                return (
                  <div
                    key={kind}
                    role="group"
                    aria-label={label}
                    className="grid grid-cols-1 items-center gap-x-4 border-t border-base-300 py-1 md:grid-cols-[minmax(0,1fr)_34rem]"
                  >
                    <div className="min-w-0">
                      <b>{label}</b>
                      {hint ? <p className="text-fine text-soft">{hint}</p> : null}
                    </div>
                    <div className="flex flex-wrap gap-x-4 md:grid md:grid-cols-4">
                      {chosenKinds[kind].ways.map((way) => (
                        <label
                          key={way}
                          className={`flex min-h-11 cursor-pointer items-center gap-2 ${columnOf[way]}`}
                        >
                          <input
                            type="radio"
                            name={kind}
                            value={way}
                            defaultChecked={(typed?.[kind] ?? ways[kind]) === way}
                          />
                          {wayLabels[way]}
                        </label>
                      ))}
                    </div>
                  </div>
                );
              })}
            </div>
          </fieldset>
          <fieldset className="min-w-0">
            <legend className="text-lg font-bold">When</legend>
            <label className="flex min-h-11 w-fit cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                name="schoolDaysOnly"
                value="yes"
                defaultChecked={isOn("schoolDaysOnly", hours.schoolDaysOnly)}
              />
              Only on school days
            </label>
            <label className="flex min-h-11 w-fit cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                name="quiet"
                value="yes"
                defaultChecked={isOn("quiet", hours.quiet !== null)}
              />
              Quiet hours
            </label>
            <div className="grid max-w-xl grid-cols-1 gap-3 sm:grid-cols-2">
              <Field label="Quiet from" {...field("quietFrom", hours.quiet?.from ?? "18:00")} />
              <Field label="until" {...field("quietTo", hours.quiet?.to ?? "07:00")} />
              <Field label="Summaries come at" {...field("summaryAt", hours.summaryAt)} />
              <Select
                label="The weekly one on"
                {...field("summaryOn", String(hours.summaryOn))}
                options={[1, 2, 3, 4, 5, 6, 7].map((day) => [String(day), weekdayName(day)] as const)}
              />
            </div>
          </fieldset>
          <SaveBar busy={busy}>Save my choices</SaveBar>
        </KeptForm>
        {recent.length > 0 ? (
          <section aria-labelledby="recent" className="mt-8">
            <h2 id="recent" className="text-lg font-bold">
              Last messages to me
            </h2>
            <ul>
              {recent.map((message) => (
                <MessageLine key={message.messageId} message={message} />
              ))}
            </ul>
          </section>
        ) : null}
      </div>
    </main>
  );
}
