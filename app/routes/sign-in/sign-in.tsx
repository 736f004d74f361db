import * as z from "zod/mini";
import { data, Form, redirect, redirectDocument } from "react-router";
import { personOf, readToken, sessionCookie, signIn } from "#server/auth/session.ts";
import { anySchool } from "#server/db/sessions.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, readForm, text, typedValues } from "#app/ui/form-data.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import { ownPath } from "./own-path.ts";
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
    return { to: to ? ownPath(to) : null };
  }, context.pulse);
}

const answers = {
  wrong: "E-mail and password do not go together. Please check both and try again.",
  "slow-down":
    "Too many tries. Please wait a quarter of an hour, or ask the person who set up the school for help.",
};

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    const form = await request.formData();
    const typed = typedValues(form);
    const read = readForm(form, signInForm);
    if (!read.ok) return data({ problems: read.problems, typed }, { status: 422 });
    const { email, password, to } = read.values;
    const signedIn = await signIn(context.database, {
      email,
      password,
      address: context.address,
      oldToken: readToken(request, context.secure),
      agent: request.headers.get("User-Agent"),
    });
    if (!signedIn.ok) {
      const problems: Record<string, string> = { form: answers[signedIn.verdict] };
      return data({ problems, typed }, { status: signedIn.verdict === "wrong" ? 401 : 429 });
    }
    throw redirectDocument(ownPath(to), {
      headers: { "Set-Cookie": sessionCookie(signedIn.token, context.secure) },
    });
  }, context.pulse);
}

export default function SignIn({ loaderData, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <TitlePage title="Sign in" lead="What you saw in the room, in the report by the time you look up.">
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
      <p className="mt-6 text-fine text-soft">
        Forgotten it? The person who runs Gentle Margin at your school can set a new one; change it under
        Account afterwards.
      </p>
    </TitlePage>
  );
}
