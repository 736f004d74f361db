import * as z from "zod/mini";
import { data, Form, Link, redirect, redirectDocument } from "react-router";
import { ownPasskeys } from "#server/auth/passkeys.ts";
import { ownSecondStep, signInWithStep } from "#server/auth/second-step.ts";
import { browserOf, familyCookie, halfCookie, readHalf, signedInHeaders } from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { readForm, text } from "#app/ui/form-data.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import { afterSignIn, ownPath } from "./own-path.ts";
import { PasskeyButton } from "./passkey-button.tsx";
import { tryProblem } from "./tries.ts";
import type { Route } from "./+types/second-step";

export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    const half = readHalf(request, context.secure);
    const to = new URL(request.url).searchParams.get("to");
    const step = await ownSecondStep(context.database, half);
    if (!step) throw redirect("/sign-in");
    const hasPasskey = (await ownPasskeys(context.database, half)).length > 0;
    return { to: to ? ownPath(to) : null, hasCode: step.isConfirmed, hasPasskey };
  }, context.pulse);
}

const stepForm = z.object({
  code: text(40, "Type the six digits that your authenticator shows, or a recovery code."),
  to: z.optional(text(500, "")),
});

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    const form = await request.formData();
    const half = readHalf(request, context.secure);
    if (half === null) throw redirect("/sign-in");
    const read = readForm(form, stepForm);
    if (!read.ok) return data({ problems: read.problems }, { status: 422 });
    const browser = browserOf(request, context);
    const done = await signInWithStep(context.database, half, { typed: read.values.code, browser });
    if (done.ok) {
      const headers = signedInHeaders(done, context.secure);
      headers.append("Set-Cookie", halfCookie("", context.secure));
      throw redirectDocument(afterSignIn(done, read.values.to), { headers });
    }
    if (done.verdict === "family") {
      const headers = new Headers({ "Set-Cookie": familyCookie(done.familyToken, context.secure) });
      headers.append("Set-Cookie", halfCookie("", context.secure));
      throw redirectDocument("/family", { headers });
    }
    if (done.verdict === "second-step" || !(await ownSecondStep(context.database, half)))
      throw redirect("/sign-in");
    const { problems, status } = tryProblem(
      done.verdict,
      "This code is not good now. The digits change every half minute, and each code works once.",
    );
    return data({ problems }, { status });
  }, context.pulse);
}

export default function SecondStep({
  loaderData: { to, hasCode, hasPasskey },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  return (
    <TitlePage
      title="The second step"
      lead={
        hasCode
          ? "The password was right. Now the code that your authenticator shows at this moment."
          : "The password was right. Now your passkey."
      }
    >
      {hasPasskey ? <PasskeyButton to={to} /> : null}
      {hasCode ? (
        <Form method="post" className={`grid gap-4 ${hasPasskey ? "mt-6" : ""}`} noValidate>
          <FormProblem>{problems["form"]}</FormProblem>
          <Field
            label="Code"
            name="code"
            inputMode="text"
            autoComplete="one-time-code"
            autoCapitalize="none"
            autoFocus
            problem={problems["code"]}
            hint="Six digits, or one of your recovery codes."
          />
          {to ? <input type="hidden" name="to" value={to} /> : null}
          <button className="btn btn-primary mt-1 w-full" disabled={busy}>
            {busy ? "Signing in …" : "Sign in"}
          </button>
        </Form>
      ) : null}
      <p className="mt-6 text-fine text-soft">
        Neither at hand? An administrator of your school can remove the second step.{" "}
        <Link className="link" to="/sign-in">
          Back to sign in
        </Link>
      </p>
    </TitlePage>
  );
}
