import * as z from "zod/mini";
import { data, Form, Link, redirect, redirectDocument } from "react-router";
import {
  browserOf,
  familyCookie,
  halfCookie,
  personOf,
  readToken,
  signedInHeaders,
  signIn,
} from "#server/auth/session.ts";
import { listOpenProviders } from "#server/db/providers.ts";
import { anySchool } from "#server/db/sessions.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, readForm, text, typedValues } from "#app/ui/form-data.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import { afterSignIn, ownPath } from "./own-path.ts";
import { PasskeyButton } from "./passkey-button.tsx";
import { tryProblem } from "./tries.ts";
import type { Route } from "./+types/sign-in";

const signInForm = z.object({
  email,
  password: z
    .string()
    .check(z.minLength(1, "Please type your password."), z.maxLength(200, "At most 200 characters.")),
  to: z.optional(text(500, "")),
});

export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    if (!(await anySchool(context.database))) throw redirect("/first-run");
    const to = new URL(request.url).searchParams.get("to");
    if (await personOf(context.database, readToken(request, context.secure))) throw redirect(ownPath(to));
    const isReset = new URL(request.url).searchParams.has("reset");
    return { to: to ? ownPath(to) : null, isReset, providers: await listOpenProviders(context.database) };
  }, context.pulse);
}

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    const form = await request.formData();
    const typed = typedValues(form);
    const read = readForm(form, signInForm);
    if (!read.ok) return data({ problems: read.problems, typed }, { status: 422 });
    const { email, password, to } = read.values;
    const signedIn = await signIn(context.database, { email, password, ...browserOf(request, context) });
    if (!signedIn.ok && signedIn.verdict === "second-step")
      throw redirect(to ? `/second-step?to=${encodeURIComponent(ownPath(to))}` : "/second-step", {
        headers: { "Set-Cookie": halfCookie(signedIn.halfToken, context.secure) },
      });
    if (!signedIn.ok && signedIn.verdict === "family")
      throw redirectDocument("/family", {
        headers: { "Set-Cookie": familyCookie(signedIn.familyToken, context.secure) },
      });
    if (!signedIn.ok) {
      const { problems, status } = tryProblem(
        signedIn.verdict,
        "E-mail and password do not go together. Please check both and try again.",
      );
      return data({ problems, typed }, { status });
    }
    throw redirectDocument(afterSignIn(signedIn, to), {
      headers: signedInHeaders(signedIn, context.secure),
    });
  }, context.pulse);
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <TitlePage title="Sign in" lead="What you saw in the room, in the report by the time you look up.">
      {loaderData.isReset && !typed ? (
        <p role="status" className="mb-4 rounded-lg bg-arrival px-3 py-2">
          The new password is set. Sign in with it.
        </p>
      ) : null}
      <Form method="post" className="grid gap-4" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <Field
          label="E-mail"
          name="email"
          type="email"
          autoComplete="username"
          required
          autoFocus={!typed}
          defaultValue={typed?.["email"]}
          problem={problems["email"]}
        />
        <Field
          label="Password"
          name="password"
          type="password"
          autoComplete="current-password"
          required
          problem={problems["password"]}
        />
        {loaderData.to ? <input type="hidden" name="to" value={loaderData.to} /> : null}
        <button className="btn btn-primary mt-1 w-full" disabled={busy}>
          {busy ? "Signing in …" : "Sign in"}
        </button>
      </Form>
      <div className="mt-4 grid gap-3">
        <PasskeyButton to={loaderData.to} />
        {loaderData.providers.map(({ schoolId, schoolName, label }) => (
          <Link
            key={schoolId}
            className="btn btn-plain h-auto w-full py-2"
            reloadDocument
            to={`/sign-in/provider/${schoolId}${loaderData.to ? `?to=${encodeURIComponent(loaderData.to)}` : ""}`}
          >
            <span dir="auto">
              {label}
              {loaderData.providers.length > 1 ? `: ${schoolName}` : ""}
            </span>
          </Link>
        ))}
      </div>
      <p className="mt-6 text-fine">
        <Link className="link inline-flex min-h-6 items-center" to="/forgotten">
          Forgotten the password?
        </Link>
      </p>
    </TitlePage>
  );
}
