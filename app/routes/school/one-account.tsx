import * as z from "zod/mini";
import { data, Form, Link, redirect, useSearchParams } from "react-router";
import { localMoment } from "#core/dates/school-time.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { schoolMails } from "#server/db/mail-settings.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { makeLink } from "#server/auth/links.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { listStaff } from "#server/db/staff.ts";
import {
  endSecondStepHere,
  endSessionsHere,
  listAccountsHere,
  listSessionsHere,
} from "#server/db/tickets.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { plural } from "#core/words/numbers.ts";
import { readTabletSettings } from "#server/db/device-lock.ts";
import { forgetDeviceHere, listDevicesHere } from "#server/db/devices.ts";
import { DeviceList } from "#app/ui/device-list.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { SessionList } from "#app/ui/session-list.tsx";
import { accountLine, stateWords } from "./account-words.ts";
import { handed, HandedLinks } from "./handed-links.tsx";
import { qrOf } from "#app/kit/qr.server.ts";
import type { Route } from "./+types/one-account";

export function loader({ request, context, params: { personId } }: Route.LoaderArgs) {
  return authorize(request, context, "staff.edit", null, async (scope) => {
    const person = (await listStaff(scope)).find((one) => one.personId === personId) ?? notFound();
    const local = (moment: string) => localMoment(scope.timeZone, Date.parse(moment));
    return {
      mails: context.mails === true || (await schoolMails(scope)),
      line: accountLine(person, (await listAccountsHere(scope)).get(personId), scope.timeZone),
      isSelf: personId === scope.actor.personId,
      devices: await listDevicesHere(scope, personId),
      offlineDays: (await readTabletSettings(scope)).offlineDays,
      sessions: (await listSessionsHere(scope, personId)).map(({ sessionId, agent, openedAt, seenAt }) => ({
        ...{ sessionId, agent, opened: local(openedAt), seen: local(seenAt) },
      })),
    };
  });
}

type Params = Submitted<{ personId: string }>;
const known = (personId: string) => (isId(personId) ? personId : notFound());

const makingReset = intent({
  schema: z.object({}),
  async run(scope, _, { params, site }: Params) {
    const link = await makeLink(scope, "reset", known(params.personId), site);
    if (!link)
      throw new Invalid({
        form: "No link was made: this account is used outside your school too, or is there no longer.",
      });
    return data({ problems: {}, links: [handed(link, qrOf(link.url))] });
  },
});

const signingOut = intent({
  schema: z.object({
    sessionId: z.union([z.string().check(z.regex(/^[0-9a-f]{64}$/)), z.literal("")]),
  }),
  async run(scope, { sessionId }, { params }: Params) {
    await endSessionsHere(scope, known(params.personId), sessionId || null);
    return redirect(`/school/accounts/${params.personId}?done=signed-out`);
  },
});

const forgetting = intent({
  schema: z.object({ deviceId: id }),
  async run(scope, { deviceId }, { params }: Params) {
    if (!(await forgetDeviceHere(scope, known(params.personId), deviceId)))
      throw new Invalid({ form: "This device is not in the list any more." });
    return redirect(`/school/accounts/${params.personId}?done=forgotten`);
  },
});

const takingStep = intent({
  schema: z.object({}),
  async run(scope, _, { params }: Params) {
    if (!(await endSecondStepHere(scope, known(params.personId))))
      throw new Invalid({
        form: "There is no second step, or this account is used outside your school too.",
      });
    return redirect(`/school/accounts/${params.personId}?done=step-taken`);
  },
});

export const action = defineIntents({
  permission: "staff.edit",
  intents: {
    ...{ "make a reset link": makingReset, "sign out there": signingOut, forget: forgetting },
    "remove the second step": takingStep,
  },
});

const doneWords: Record<string, string> = {
  "step-taken": "The second step is removed.",
  forgotten: "The device is forgotten.",
};

/** How one person signs in to the school: where they are signed in now, and a link for another password. */
export default function OneAccount({
  loaderData: { line, sessions, devices, offlineDays, mails, isSelf },
  actionData,
}: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems } = useForm(answered);
  const done = useSearchParams()[0].get("done");
  const links = answered && "links" in answered ? answered.links : null;
  return (
    <>
      <p className="no-print mb-2 text-fine">
        <Link className="link" to="/school/accounts">
          Accounts
        </Link>
      </p>
      <header className="mb-4">
        <PageTitle title={line.name} className="font-serif text-[1.4rem] font-semibold" />
        <p className="text-[0.9375rem] text-soft">
          {[line.position, stateWords(line)].filter(Boolean).join(" · ")}
        </p>
      </header>
      <FormProblem>{problems["form"]}</FormProblem>
      {links ? <HandedLinks links={links} mails={mails} /> : null}
      {done && !links ? (
        <p role="status" className="mb-4 w-fit rounded-lg bg-arrival px-4 py-2">
          {doneWords[done] ?? "Signed out there."}
        </p>
      ) : null}
      <section aria-labelledby="sessions" className="no-print max-w-3xl">
        <h2 id="sessions" className="text-lg font-bold">
          Signed in now
        </h2>
        {sessions.length === 0 ? (
          <p className="mt-1 text-[0.9375rem]">{line.name} is signed in nowhere at this moment.</p>
        ) : (
          <SessionList sessions={sessions} elsewhere="Sign out everywhere" busy={busy} />
        )}
      </section>
      <section aria-labelledby="devices" className="no-print mt-8 max-w-3xl">
        <h2 id="devices" className="text-lg font-bold">
          Devices that record without a network
        </h2>
        {devices.length === 0 ? (
          <p className="mt-1 text-[0.9375rem]">None.</p>
        ) : (
          <>
            <p className="mt-1 text-[0.9375rem]">
              Forget one that is lost: from its next connection on, and after {offlineDays}{" "}
              {plural(offlineDays, "day")} at the latest, nothing on it can be read, unsent entries included.
            </p>
            <DeviceList devices={devices} />
          </>
        )}
      </section>
      {line.state === "has an account" ? (
        <section aria-labelledby="another-password" className="no-print mt-8 max-w-3xl">
          <h2 id="another-password" className="text-lg font-bold">
            Forgotten password
          </h2>
          {isSelf ? (
            <p className="mt-1 text-[0.9375rem]">
              This is you: change the password under{" "}
              <Link className="link" to="/account">
                Account
              </Link>
              .
            </p>
          ) : line.isElsewhere ? (
            <p className="mt-1 text-[0.9375rem]">
              This account is used outside your school too, so its password is not yours to replace. The
              person asks for a link with <b>Forgotten the password?</b> on the sign-in page
              {mails ? "" : "; for that this server would have to send mail"}.
            </p>
          ) : (
            <Form method="post" className="mt-1 grid gap-2">
              <p className="text-[0.9375rem]">
                A link with which {line.name} sets a new password. It is good for a day. When it is used,{" "}
                {line.name} is signed out wherever they are.
              </p>
              <button className="btn btn-plain w-fit" name="intent" value="make a reset link" disabled={busy}>
                Make a link for a new password
              </button>
            </Form>
          )}
        </section>
      ) : null}
      {line.hasStep && !line.isElsewhere && !isSelf ? (
        <section aria-labelledby="step" className="no-print mt-8 max-w-3xl">
          <h2 id="step" className="text-lg font-bold">
            Second step
          </h2>
          <Form method="post" className="mt-1 grid gap-2">
            <p className="text-[0.9375rem]">
              {line.name} is asked for a code after the password. Remove it only after a talk in person, when
              both phone and recovery codes are lost.
            </p>
            <button
              className="btn btn-plain w-fit"
              name="intent"
              value="remove the second step"
              disabled={busy}
            >
              Remove the second step
            </button>
          </Form>
        </section>
      ) : null}
    </>
  );
}
