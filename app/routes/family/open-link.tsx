import { data, Form, redirect, redirectDocument } from "react-router";
import { familyLink, mailFamilyCodeTo, openFamily } from "#server/auth/family.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { familyCookie } from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { familyPageWords } from "#core/words/family-page.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { findMailServer } from "#server/db/mail-settings.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { FamilyFrame } from "./family-frame.tsx";
import type { Route } from "./+types/open-link";

/** "l…@home.example": enough to know the own address by, and no more. */
const hinted = (email: string) => email.replace(/^(.)[^@]*/, "$1…");

/** Is mail of this school sent: by this installation, or by a server of its own? */
const sendsMail = async ({ mails, database }: Route.LoaderArgs["context"], schoolId: string) =>
  mails === true || ((await findMailServer(database, schoolId))?.isOn ?? false);

export function loader({ context, params }: Route.LoaderArgs) {
  return guarded(async () => {
    const link = await familyLink(context.database, params.token);
    return {
      link: link && {
        ...{ language: link.language, school: link.schoolName },
        email: link.email && (await sendsMail(context, link.schoolId)) ? hinted(link.email) : null,
      },
    };
  }, context.pulse);
}

/** Sends a code to the guardian's own address, or opens the page with one. A link that was passed on opens nothing by itself. */
export function action({ request, context, params: { token } }: Route.ActionArgs) {
  return guarded(async () => {
    const form = await request.formData();
    const link = await familyLink(context.database, token);
    if (!link) throw redirect(`/family/open/${encodeURIComponent(token)}`);
    const words = familyPageWords[link.language];
    const wrong = (problems: Record<string, string>, status: number) => data({ problems }, { status });
    if (form.get("intent") === "send") {
      if (!link.email || !(await sendsMail(context, link.schoolId)))
        return wrong({ form: words.askStaff }, 422);
      const isSent = await mailFamilyCodeTo(context.database, link, context.address);
      return isSent
        ? data({ problems: {}, sentTo: hinted(link.email) })
        : wrong({ form: words.codeTooOften }, 429);
    }
    const typed = form.get("code");
    const opened = await openFamily(context.database, token, typeof typed === "string" ? typed : "");
    if (isSlowDown(opened)) return wrong({ code: words.tooManyCodes }, 429);
    if (opened === "wrong") return wrong({ code: words.wrongCode }, 422);
    throw redirectDocument("/family", {
      headers: { "Set-Cookie": familyCookie(opened, context.secure) },
    });
  }, context.pulse);
}

export default function OpenLink({ loaderData: { link }, actionData }: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems } = useForm(answered);
  const sentTo = answered && "sentTo" in answered ? answered.sentTo : null;
  if (!link)
    return (
      <FamilyFrame language="en" school="">
        <PageTitle title={familyPageWords.en.entranceTitle} className="font-serif text-2xl font-semibold" />
        <p className="mt-3">{familyPageWords.en.linkOver}</p>
        <p lang="es" className="mt-4">
          {familyPageWords.es.linkOver}
        </p>
      </FamilyFrame>
    );
  const words = familyPageWords[link.language];
  return (
    <FamilyFrame language={link.language} school={link.school}>
      <PageTitle title={words.entranceTitle} className="font-serif text-2xl font-semibold" />
      <FormProblem>{problems["form"]}</FormProblem>
      {link.email === null ? (
        <p className="mt-3">{words.askStaff}</p>
      ) : sentTo ? (
        <p role="status" className="mt-3 rounded-lg bg-arrival px-4 py-2">
          {words.codeSent(sentTo)}
        </p>
      ) : (
        <Form method="post" className="mt-3 grid gap-3">
          <p>{words.askCode(link.email)}</p>
          <button className="btn btn-primary h-12 w-full sm:w-fit" name="intent" value="send" disabled={busy}>
            {words.sendCode}
          </button>
        </Form>
      )}
      <Form method="post" className="mt-6 grid max-w-xs gap-3" noValidate>
        <Field
          label={words.code}
          name="code"
          inputMode="numeric"
          autoComplete="one-time-code"
          maxLength={12}
          problem={problems["code"]}
        />
        <button
          className={`btn h-12 w-full ${link.email === null || sentTo ? "btn-primary" : "btn-plain"}`}
          name="intent"
          value="open"
          disabled={busy}
        >
          {words.open}
        </button>
      </Form>
    </FamilyFrame>
  );
}
