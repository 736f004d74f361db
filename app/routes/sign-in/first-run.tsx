import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, redirect, redirectDocument } from "react-router";
import { passwordLengthWords, passwordLength, passwordProblem } from "#server/auth/password-rules.ts";
import { isSlowDown, limitedSetUp } from "#server/auth/rate-limit.ts";
import { hashSetUpCode } from "#server/auth/second-step.ts";
import { hashPassword } from "#server/auth/password.ts";
import { browserOf, signedInHeaders, signIn } from "#server/auth/session.ts";
import { anySchool, isSetUpCode, makeFirstSchool } from "#server/db/sessions.ts";
import { guarded } from "#server/access/answer.ts";
import { localeFor, schoolLocales } from "#core/words/locale.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, readForm, text, typedValues } from "#app/ui/form-data.ts";
import { LocaleField } from "#app/ui/locale-field.tsx";
import { useAwake } from "#app/ui/use-awake.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import type { Route } from "./+types/first-run";

function isTimeZone(name: string): boolean {
  return Intl.supportedValuesOf("timeZone").includes(name) || name === "UTC";
}

const firstForm = z.object({
  code: text(40, "Type the code that was printed where the server was started."),
  school: text(200, "Please give the school’s name."),
  timeZone: text(60, "Please choose the time zone.").check(
    z.refine(isTimeZone, "This is not a time zone we know; choose one from the list."),
  ),
  locale: z.enum(schoolLocales, "Choose how dates are written."),
  givenName: text(100, "Please give your given name."),
  familyName: text(100, "Please give your family name."),
  caseManager: z.optional(z.string()),
  email,
  password: z
    .string()
    .check(
      z.minLength(passwordLength.least, passwordLengthWords.short),
      z.maxLength(passwordLength.most, passwordLengthWords.long),
    ),
});

export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    if (await anySchool(context.database)) throw redirect("/sign-in");
    return {
      timeZones: Intl.supportedValuesOf("timeZone"),
      here: Intl.DateTimeFormat().resolvedOptions().timeZone,
      locale: localeFor(request.headers.get("accept-language") ?? ""),
    };
  }, context.pulse);
}

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    if (await anySchool(context.database)) throw redirect("/sign-in");
    const form = await request.formData();
    const read = readForm(form, firstForm);
    if (!read.ok) return data({ problems: read.problems, typed: typedValues(form) }, { status: 422 });
    const weak = await passwordProblem(read.values.password, read.values.email);
    if (weak) return data({ problems: { password: weak }, typed: typedValues(form) }, { status: 422 });
    const codeHash = hashSetUpCode(read.values.code);
    const known = await limitedSetUp(context.database, async () =>
      (await isSetUpCode(context.database, codeHash)) ? true : null,
    );
    if (known !== true) {
      const code = isSlowDown(known)
        ? "Too many wrong codes. Please wait a quarter of an hour."
        : "This is not the code. It is printed where the server was started last; each start prints another.";
      return data(
        { problems: { code }, typed: typedValues(form) },
        { status: isSlowDown(known) ? 429 : 422 },
      );
    }
    const { school, timeZone, locale, givenName, familyName, caseManager, email, password } = read.values;
    await makeFirstSchool(context.database, {
      codeHash,
      schoolId: newId(),
      name: school,
      timeZone,
      locale,
      personId: newId(),
      givenName,
      familyName,
      caseManager: caseManager === "yes",
      accountId: newId(),
      email,
      passwordHash: await hashPassword(password),
    });
    const signedIn = await signIn(context.database, {
      ...{ email, password },
      ...browserOf(request, context),
    });
    if (!signedIn.ok) throw redirect("/sign-in");
    throw redirectDocument("/caseload", {
      headers: signedInHeaders(signedIn, context.secure),
    });
  }, context.pulse);
}

export default function FirstRun({ loaderData, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  // The school is where its first person sits, wherever the server stands.
  const here = useAwake() ? Intl.DateTimeFormat().resolvedOptions().timeZone : loaderData.here;
  return (
    <TitlePage
      title="Set up your school"
      lead="This page is shown once. It makes the school and the first account; everyone else is brought in from there."
    >
      <KeptForm draft="first-run" method="post" className="grid gap-4" noValidate>
        <FormProblem>
          {Object.keys(problems).length > 0 ? "Some fields need another look." : undefined}
        </FormProblem>
        <Field
          label="Set-up code"
          name="code"
          autoComplete="off"
          autoCapitalize="none"
          defaultValue={typed?.["code"]}
          problem={problems["code"]}
          hint="Printed where the server was started, so that nobody else can be first."
        />
        <Field label="School" name="school" defaultValue={typed?.["school"]} problem={problems["school"]} />
        <Field
          key={here}
          label="Time zone"
          name="timeZone"
          list="time-zones"
          defaultValue={typed?.["timeZone"] ?? here}
          problem={problems["timeZone"]}
          hint="Decides which day and which period an entry belongs to."
        />
        <datalist id="time-zones">
          {loaderData.timeZones.map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
        <LocaleField chosen={typed?.["locale"] ?? loaderData.locale} problem={problems["locale"]} />
        <div className="grid grid-cols-2 gap-3">
          <Field
            label="Given name"
            name="givenName"
            autoComplete="given-name"
            defaultValue={typed?.["givenName"]}
            problem={problems["givenName"]}
          />
          <Field
            label="Family name"
            name="familyName"
            autoComplete="family-name"
            defaultValue={typed?.["familyName"]}
            problem={problems["familyName"]}
          />
        </div>
        <label className="flex min-h-9 items-start gap-2">
          <input
            type="checkbox"
            name="caseManager"
            value="yes"
            className="mt-0.5 size-5 accent-primary"
            defaultChecked={typed ? typed["caseManager"] === "yes" : true}
          />
          <span>
            I carry a caseload
            <span className="block text-fine text-soft">
              Students can be added to your name. It can be changed under Staff.
            </span>
          </span>
        </label>
        <Field
          label="E-mail"
          name="email"
          type="email"
          autoComplete="username"
          defaultValue={typed?.["email"]}
          problem={problems["email"]}
        />
        <Field
          label="Password"
          name="password"
          type="password"
          autoComplete="new-password"
          problem={problems["password"]}
          hint="At least 12 characters."
        />
        <button className="btn btn-primary mt-1 w-full" disabled={busy}>
          {busy ? "Setting up …" : "Set up the school"}
        </button>
      </KeptForm>
    </TitlePage>
  );
}
