import * as z from "zod/mini";
import { data, Form, redirect, redirectDocument } from "react-router";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { joinAnew, joinWith, openedBy } from "#server/auth/links.ts";
import { passwordProblem } from "#server/auth/password-rules.ts";
import {
  browserOf,
  enter,
  halfCookie,
  knownAccount,
  personOf,
  signedInHeaders,
} from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { recordEvent } from "#server/db/events.ts";
import { withScope } from "#server/db/school.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, readForm, typedValues } from "#app/ui/form-data.ts";
import { NewPassword } from "#app/ui/password-fields.tsx";
import { TitlePage } from "#app/ui/title-page.tsx";
import { SpentLink } from "./spent-link.tsx";
import { tryProblem } from "./tries.ts";
import type { Route } from "./+types/join";

export function loader({ context, params }: Route.LoaderArgs) {
  return guarded(async () => {
    const ticket = await openedBy(context.database, params.token, "invitation");
    return {
      invited: ticket && {
        school: ticket.schoolName ?? "",
        name: [ticket.givenName, ticket.familyName].filter(Boolean).join(" "),
        email: ticket.email,
        hasAccount: ticket.accountId !== null,
        until: ticket.lastDay,
      },
    };
  }, context.pulse);
}

const joinForm = z.discriminatedUnion("intent", [
  z.object({ intent: z.literal("make an account"), password: z.string() }),
  z.object({
    intent: z.literal("join with my account"),
    email,
    password: z.string().check(z.minLength(1, "Please type your password."), z.maxLength(200)),
  }),
]);

/** Uses the invitation: with a new account, or with one whose password is known. Then the person is signed in to the school. */
export function action({ request, context, params: { token } }: Route.ActionArgs) {
  return guarded(async () => {
    const { database, secure } = context;
    const ticket = await openedBy(database, token, "invitation");
    if (!ticket) throw redirect(`/join/${encodeURIComponent(token)}`);
    const form = await request.formData();
    const typed = typedValues(form);
    const wrong = (problems: Record<string, string>, status = 422) => data({ problems, typed }, { status });
    const read = readForm(form, joinForm);
    if (!read.ok) return wrong(read.problems);
    const browser = browserOf(request, context);
    const join = async () => {
      if (read.values.intent === "make an account") return joinAnew(database, token, read.values.password);
      const known = await knownAccount(database, { ...read.values, ...browser });
      if (known === "wrong" || isSlowDown(known)) return known;
      const joined = await joinWith(database, token, known.account_id);
      return joined && { accountId: known.account_id, schoolId: joined.schoolId };
    };
    if (read.values.intent === "make an account") {
      const weak = await passwordProblem(read.values.password, ticket.email);
      if (weak) return wrong({ password: weak });
    }
    const joined = await join();
    if (joined === "wrong" || isSlowDown(joined)) {
      const { problems, status } = tryProblem(joined, "E-mail and password do not go together.");
      return wrong(problems, status);
    }
    if (joined === null)
      return wrong({ form: "This account is in the school already, or the link was used before." }, 409);
    const signedIn = await enter(database, joined.accountId, browser, joined.schoolId);
    if (!signedIn.ok && signedIn.verdict === "second-step")
      throw redirect("/second-step", { headers: { "Set-Cookie": halfCookie(signedIn.halfToken, secure) } });
    if (!signedIn.ok) throw redirect("/sign-in");
    const person = await personOf(database, signedIn.token);
    if (person)
      await withScope(database, person, null, (scope) =>
        recordEvent(scope, { thing: "person", act: "joined", thingId: person.personId, studentId: null }),
      );
    throw redirectDocument("/caseload", { headers: signedInHeaders(signedIn, secure) });
  }, context.pulse);
}

export default function Join({ loaderData: { invited }, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  if (!invited)
    return (
      <SpentLink>
        The invitation was used, taken back, or has run out. If you have used it, sign in. If not, ask an
        administrator of your school for another one.
      </SpentLink>
    );
  // Of the two forms on this page the one with an address was sent.
  const isMine = typed?.["email"] !== undefined;
  const withMine = (
    <Form method="post" className="grid gap-4" noValidate>
      <Field
        label="E-mail of your account"
        name="email"
        type="email"
        autoComplete="username"
        defaultValue={typed?.["email"] ?? (invited.hasAccount ? invited.email : "")}
        problem={problems["email"]}
      />
      <Field
        label="Its password"
        name="password"
        type="password"
        autoComplete="current-password"
        problem={isMine ? problems["password"] : undefined}
      />
      <button
        className={`btn w-full ${invited.hasAccount ? "btn-primary" : "btn-plain"}`}
        name="intent"
        value="join with my account"
        disabled={busy}
      >
        Add {invited.school} to my account
      </button>
    </Form>
  );
  return (
    <TitlePage
      title={`Join ${invited.school}`}
      lead={`Hello ${invited.name}. Your colleagues record here what their students do, and would like you with them.`}
    >
      <FormProblem>{problems["form"]}</FormProblem>
      {invited.hasAccount ? (
        <>
          <p className="mb-4 leading-relaxed">
            There is an account for <b>{invited.email}</b>. Sign in with it; you then choose between your
            schools.
          </p>
          {withMine}
        </>
      ) : (
        <>
          <p className="mb-4 leading-relaxed">
            You will sign in as <b>{invited.email}</b>. Choose a password.
          </p>
          <Form method="post" className="grid gap-4" noValidate>
            <NewPassword email={invited.email} problem={isMine ? undefined : problems["password"]} />
            <button className="btn btn-primary w-full" name="intent" value="make an account" disabled={busy}>
              {busy ? "Making it …" : "Make my account"}
            </button>
          </Form>
          <details className="mt-6" open={isMine}>
            <summary className="min-h-8 cursor-pointer text-fine font-bold">
              I have an account from another school
            </summary>
            <div className="mt-3">{withMine}</div>
          </details>
        </>
      )}
      <p className="mt-6 text-fine text-soft">
        The link can be used once, until {dateWithYear(invited.until)}. It is for {invited.name} only.
      </p>
    </TitlePage>
  );
}
