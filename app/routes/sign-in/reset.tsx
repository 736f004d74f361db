import { data, Form, redirect } from "react-router";
import { openedBy, resetPassword } from "#server/auth/links.ts";
import { passwordProblem } from "#server/auth/password-rules.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { NewPassword } from "#app/ui/password-fields.tsx";
import { TitlePage } from "#app/ui/title-page.tsx";
import { SpentLink } from "./spent-link.tsx";
import type { Route } from "./+types/reset";

export function loader({ context, params }: Route.LoaderArgs) {
  return guarded(async () => {
    const ticket = await openedBy(context.database, params.token, "reset");
    return { email: ticket?.email ?? null };
  }, context.pulse);
}

/** Sets the password. The sign-in that follows asks for it, and for the second step where there is one: a link alone signs nobody in. */
export function action({ request, context, params }: Route.ActionArgs) {
  return guarded(async () => {
    const password = (await request.formData()).get("password");
    const ticket = await openedBy(context.database, params.token, "reset");
    if (!ticket) throw redirect(`/reset/${encodeURIComponent(params.token)}`);
    const typed = typeof password === "string" ? password : "";
    const weak = await passwordProblem(typed, ticket.email);
    if (weak) return data({ problems: { password: weak } }, { status: 422 });
    if (!(await resetPassword(context.database, params.token, typed)))
      throw redirect(`/reset/${encodeURIComponent(params.token)}`);
    throw redirect("/sign-in?reset");
  }, context.pulse);
}

export default function Reset({ loaderData: { email }, actionData }: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  if (email === null)
    return (
      <SpentLink>
        It was used, taken back, or has run out. Ask for another one on the sign-in page, or from an
        administrator of your school.
      </SpentLink>
    );
  return (
    <TitlePage title="A new password" lead="It replaces the one before, and signs you out wherever you are.">
      <p className="mb-4">
        for <b>{email}</b>
      </p>
      <Form method="post" className="grid gap-4" noValidate>
        <NewPassword email={email} problem={problems["password"]} />
        <button className="btn btn-primary w-full" disabled={busy}>
          {busy ? "Setting it …" : "Set the password"}
        </button>
      </Form>
    </TitlePage>
  );
}
