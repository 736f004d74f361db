import * as z from "zod/mini";
import { data, Form, Link } from "react-router";
import { mailReset } from "#server/auth/links.ts";
import { mailsAnywhere } from "#server/db/mail-settings.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, readForm, typedValues } from "#app/ui/form-data.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import type { Route } from "./+types/forgotten";

const sendsMail = async ({ mails, database }: Route.LoaderArgs["context"]) =>
  mails === true || mailsAnywhere(database);

export function loader({ context }: Route.LoaderArgs) {
  return guarded(async () => ({ mails: await sendsMail(context) }), context.pulse);
}

/** The same answer whether there is such an account or not. */
export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    const form = await request.formData();
    const typed = typedValues(form);
    const read = readForm(form, z.object({ email }));
    if (!read.ok) return data({ problems: read.problems, typed }, { status: 422 });
    const { origin } = new URL(request.url);
    const asked = { email: read.values.email, address: context.address, origin };
    if ((await sendsMail(context)) && !(await mailReset(context.database, asked))) {
      const problems = { form: "This was asked for too often. Please wait a quarter of an hour." };
      return data({ problems, typed }, { status: 429 });
    }
    return data({ problems: {}, typed, sentTo: read.values.email });
  }, context.pulse);
}

export default function Forgotten({ loaderData: { mails }, actionData }: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems, typed } = useForm(answered);
  const sentTo = answered && "sentTo" in answered ? answered.sentTo : null;
  const back = (
    <p className="mt-6 text-fine">
      <Link className="link inline-flex min-h-6 items-center" to="/sign-in">
        Back to sign in
      </Link>
    </p>
  );
  if (!mails)
    return (
      <TitlePage title="Forgotten the password" lead="A new one is a minute’s work for your administrator.">
        <p className="leading-relaxed">
          This server sends no mail. Ask an administrator of your school for a link: they make it under
          School, Accounts, and you choose a new password with it.
        </p>
        {back}
      </TitlePage>
    );
  return (
    <TitlePage title="Forgotten the password" lead="We mail you a link. With it you choose a new one.">
      {sentTo ? (
        <p role="status" className="rounded-lg bg-arrival px-3 py-2 leading-relaxed">
          If there is an account for <b>{sentTo}</b>, a link is on its way to it. It can be used for an hour.
          If nothing comes, look among the unwanted mail, or ask an administrator of your school.
        </p>
      ) : (
        <Form method="post" className="grid gap-4" noValidate>
          <FormProblem>{problems["form"]}</FormProblem>
          <Field
            label="E-mail"
            name="email"
            type="email"
            autoComplete="username"
            autoFocus={!typed}
            defaultValue={typed?.["email"]}
            problem={problems["email"]}
          />
          <button className="btn btn-primary w-full" disabled={busy}>
            {busy ? "Sending …" : "Mail me a link"}
          </button>
        </Form>
      )}
      {back}
    </TitlePage>
  );
}
