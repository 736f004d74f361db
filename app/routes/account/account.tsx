import * as z from "zod/mini";
import { data, Form, Link, redirect, redirectDocument, useSearchParams } from "react-router";
import { localMoment } from "#core/dates/school-time.ts";
import { plural } from "#core/words/numbers.ts";
import { ownPasskeys } from "#server/auth/passkeys.ts";
import { ownSecondStep } from "#server/auth/second-step.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { passwordProblem } from "#server/auth/password-rules.ts";
import {
  browserOf,
  changePassword,
  isFamily,
  ownAccount,
  readToken,
  signOutElsewhere,
} from "#server/auth/session.ts";
import { recordEvent } from "#server/db/events.ts";
import { readOwnLocale, saveOwnName } from "#server/db/own-settings.ts";
import { shortName } from "#core/model/student-names.ts";
import { schoolLocales } from "#core/words/locale.ts";
import { LocaleField } from "#app/ui/locale-field.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { readForm, text, typedValues } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { NewPassword } from "#app/ui/password-fields.tsx";
import { SessionList } from "#app/ui/session-list.tsx";
import type { Route } from "./+types/account";

export async function loader({ request, context }: Route.LoaderArgs) {
  const token = readToken(request, context.secure);
  const account = await ownAccount(context.database, token);
  const isGuardian = await isFamily(context.database, token);
  const step = await ownSecondStep(context.database, token);
  const { length: passkeys } = await ownPasskeys(context.database, token);
  return authorize(request, context, "own-settings.keep", null, async (scope) => {
    const { actor, timeZone } = scope;
    return {
      name: { given: actor.givenName, family: actor.familyName },
      locale: await readOwnLocale(scope),
      school: actor.schoolName,
      email: account?.email ?? "",
      schools: actor.schools,
      isDistrict: actor.isDistrict,
      isGuardian,
      codesLeft: step?.isConfirmed ? step.codesLeft : null,
      passkeys,
      tasks: [
        ...(actor.caseManager ? ["carries a caseload"] : []),
        ...(actor.role === "administrator" ? ["administrator"] : []),
      ],
      sessions: (account?.sessions ?? []).map(({ sessionId, agent, isThis, openedAt, seenAt }) => ({
        ...{ sessionId, agent, isThis },
        opened: localMoment(timeZone, Date.parse(openedAt)),
        seen: localMoment(timeZone, Date.parse(seenAt)),
      })),
    };
  });
}

const forms = z.discriminatedUnion("intent", [
  z.object({
    intent: z.literal("save the name"),
    givenName: text(100, "What is your given name?"),
    familyName: text(100, "What is your family name?"),
    locale: z.union([z.enum(schoolLocales), z.literal("")]),
  }),
  z.object({
    intent: z.literal("change the password"),
    present: z.string().check(z.minLength(1, "Please type your current password."), z.maxLength(200)),
    next: z.string(),
  }),
  z.object({
    intent: z.literal("sign out there"),
    sessionId: z.union([z.string().check(z.regex(/^[0-9a-f]{64}$/)), z.literal("")]),
  }),
]);

const tooMany = "Too many tries. Please wait a quarter of an hour.";

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const read = readForm(form, forms);
  const wrong = (problems: Record<string, string>, status = 422) => data({ problems }, { status });
  // Who it is comes first: what follows is about their own account and nobody else's.
  const { actor } = await authorize(request, context, "own-settings.keep", null, (scope) =>
    Promise.resolve({ actor: scope.actor }),
  );
  if (!read.ok) {
    // What was typed of a name comes back; of a password nothing does.
    const { givenName, familyName, locale } = typedValues(form);
    const typed = Object.fromEntries(
      Object.entries({ givenName, familyName, locale }).flatMap(([key, value]) =>
        value === undefined ? [] : [[key, value] as const],
      ),
    );
    return data({ problems: read.problems, typed }, { status: 422 });
  }
  const token = readToken(request, context.secure) ?? "";
  const noted = (act: "password changed" | "signed out elsewhere") =>
    authorize(request, context, "own-settings.keep", null, (scope) =>
      recordEvent(scope, { thing: "person", act, thingId: actor.personId, studentId: null }),
    );
  const { values } = read;
  if (values.intent === "save the name") {
    const { givenName, familyName, locale } = values;
    await authorize(request, context, "own-settings.keep", null, (scope) =>
      saveOwnName(scope, { givenName, familyName, locale: locale || null }),
    );
    // The page is read anew: its language is that of the whole document.
    return redirectDocument("/account?done=named");
  }
  if (values.intent === "sign out there") {
    await signOutElsewhere(context.database, token, values.sessionId || null);
    await noted("signed out elsewhere");
    return redirect("/account?done=signed-out");
  }
  const account = await ownAccount(context.database, token);
  const weak = await passwordProblem(values.next, account?.email ?? "");
  if (weak) return wrong({ next: weak });
  if (values.next === values.present) return wrong({ next: "This is your current password." });
  const { present, next } = values;
  const { deviceToken = null } = browserOf(request, context);
  const outcome = await changePassword(context.database, token, { present, next, deviceToken });
  if (isSlowDown(outcome)) return wrong({ form: tooMany }, 429);
  if (outcome === "wrong") return wrong({ present: "This is not your current password." });
  await noted("password changed");
  return redirect("/account?done=changed");
}

type Sessions = Route.ComponentProps["loaderData"]["sessions"];
function SignedIn({ sessions, busy }: { sessions: Sessions; busy: boolean }) {
  return (
    <section aria-labelledby="signed-in" className="mt-8">
      <h2 id="signed-in" className="text-lg font-bold">
        Where you are signed in
      </h2>
      <SessionList sessions={sessions} elsewhere="Sign out everywhere else" busy={busy} />
      <p className="mt-2 text-fine text-soft">
        A session ends by itself after two hours without use, and after twelve hours. What a device keeps for
        recording without a network is under{" "}
        <Link className="link" to="/devices">
          My devices
        </Link>
        , and so is your PIN.
      </p>
    </section>
  );
}

/** A person's own account: who they are here, their password, and where they are signed in. */
export default function Account({
  loaderData: { name, locale, school, email, tasks, sessions, schools, ...more },
  actionData,
}: Route.ComponentProps) {
  const { isDistrict, isGuardian, codesLeft, passkeys } = more;
  const { busy, problems, typed } = useForm(actionData);
  const done = useSearchParams()[0].get("done");
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 border-b border-base-300 pb-2">
        <PageTitle title="My account" />
      </header>
      <div className="max-w-3xl">
        {done ? (
          <p role="status" className="mb-4 w-fit rounded-lg bg-arrival px-4 py-2">
            {done === "changed"
              ? "Your password is changed. You are signed out everywhere else."
              : done === "step-ended"
                ? "The second step is off."
                : done === "named"
                  ? "Saved."
                  : "Signed out there."}
          </p>
        ) : null}
        <p className="font-serif text-[1.15rem]" dir="auto">
          {name.given} {name.family}
        </p>
        <p className="text-[0.9375rem] text-soft">
          {[email, school, ...tasks].filter(Boolean).join(" · ")}. An administrator changes e-mail and tasks
          under{" "}
          <Link className="link" to="/school/staff">
            Staff
          </Link>
          .
        </p>
        {schools > 1 || isDistrict || isGuardian ? (
          <p className="mt-3 flex flex-wrap gap-3">
            {schools > 1 || isGuardian ? (
              <Link className="btn btn-plain btn-sm" to="/schools">
                {schools > 1 ? "Turn to another school" : "My family’s page"}
              </Link>
            ) : null}
            {isDistrict ? (
              <Link className="btn btn-plain btn-sm" to="/district">
                Schools of the district
              </Link>
            ) : null}
          </p>
        ) : null}
        <section aria-labelledby="own-name" className="mt-8">
          <h2 id="own-name" className="text-lg font-bold">
            Name, dates and times
          </h2>
          <p className="mt-1 text-[0.9375rem]">
            What you recorded is signed <b dir="auto">{shortName(name.given, name.family)}</b>, earlier
            entries too. Editions that were made stay as they are.
          </p>
          <Form method="post" className="mt-2 grid max-w-md gap-3" noValidate preventScrollReset>
            <Field
              label="Given name"
              name="givenName"
              autoComplete="given-name"
              maxLength={100}
              dir="auto"
              defaultValue={typed?.["givenName"] ?? name.given}
              problem={problems["givenName"]}
            />
            <Field
              label="Family name"
              name="familyName"
              autoComplete="family-name"
              maxLength={100}
              dir="auto"
              defaultValue={typed?.["familyName"] ?? name.family}
              problem={problems["familyName"]}
            />
            <LocaleField
              asSchool
              label="Language, dates and times"
              chosen={typed?.["locale"] ?? locale ?? ""}
              problem={problems["locale"]}
            />
            <button className="btn btn-primary w-fit" name="intent" value="save the name" disabled={busy}>
              Save the name and dates
            </button>
            <p className="text-fine text-soft">
              Pages for staff are in English. A family reads its page in the language that is set for each
              guardian.
            </p>
          </Form>
        </section>
        <section aria-labelledby="notices" className="mt-8">
          <h2 id="notices" className="text-lg font-bold">
            Messages
          </h2>
          <p className="mt-1 text-[0.9375rem]">
            Choose what you hear of by e-mail: at once, once a day, once a week or not, and when it is quiet.
          </p>
          <Link className="btn btn-plain mt-2" to="/account/messages">
            Which messages I want
          </Link>
        </section>
        {email === "" ? (
          <p className="mt-8 max-w-[44rem] text-[0.9375rem]">
            You signed in by your school’s provider. Your password here, a second step and the list of where
            you are signed in are shown after a sign-in with e-mail and password. “Forgotten the password?” on
            the sign-in page makes one.
          </p>
        ) : (
          <>
            <section aria-labelledby="password" className="mt-8">
              <h2 id="password" className="text-lg font-bold">
                Password
              </h2>
              <FormProblem>{problems["form"]}</FormProblem>
              <Form
                key={done ?? ""}
                method="post"
                className="mt-2 grid max-w-md gap-3"
                noValidate
                preventScrollReset
              >
                <Field
                  label="Current password"
                  name="present"
                  type="password"
                  autoComplete="current-password"
                  problem={problems["present"]}
                />
                <NewPassword {...{ email }} name="next" label="New password" problem={problems["next"]} />
                <button
                  className="btn btn-primary w-fit"
                  name="intent"
                  value="change the password"
                  disabled={busy}
                >
                  Change the password
                </button>
              </Form>
            </section>
            <section aria-labelledby="second-step" className="mt-8">
              <h2 id="second-step" className="text-lg font-bold">
                Second step and passkeys
              </h2>
              <p className="mt-1 text-[0.9375rem]">
                {codesLeft === null && passkeys === 0
                  ? "Off. With it, a password that was read or guessed is not enough to sign in."
                  : "On."}
                {codesLeft === null ? "" : ` ${codesLeft} recovery ${plural(codesLeft, "code")} left.`}
                {passkeys > 0 ? ` ${passkeys} ${plural(passkeys, "passkey")}.` : ""}
              </p>
              <Link className="btn btn-plain mt-2" to="/account/second-step">
                {codesLeft === null && passkeys === 0 ? "Set up a second step" : "Change the second step"}
              </Link>
            </section>
            <SignedIn sessions={sessions} busy={busy} />
          </>
        )}
      </div>
    </main>
  );
}
