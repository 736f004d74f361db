import * as z from "zod/mini";
import { Form, Link, redirect, useSearchParams } from "react-router";
import { localMoment } from "#core/dates/school-time.ts";
import { defineIntents, intent } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { backAddress, isIssuer } from "#server/auth/provider.ts";
import { readOwnProvider, removeProvider, saveProvider, turnProvider } from "#server/db/providers.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { text } from "#app/ui/form-data.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { providerProblem } from "../sign-in/provider-words.ts";
import type { Route } from "./+types/provider";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "staff.edit", null, async (scope) => {
    const provider = await readOwnProvider(scope);
    return {
      schoolId: scope.schoolId,
      back: backAddress(new URL(request.url).origin),
      provider: provider && {
        ...provider,
        tested: provider.testedAt && localMoment(scope.timeZone, Date.parse(provider.testedAt)),
      },
    };
  });
}

const here = () => redirect("/school/provider");

const saving = intent({
  schema: z.object({
    issuer: z
      .string()
      .check(
        z.trim(),
        z.maxLength(500, "At most 500 characters."),
        z.refine(isIssuer, "Write the address with https://, as the provider calls itself."),
      ),
    clientId: text(300, "What is this site called there?"),
    secret: z.string().check(z.trim(), z.maxLength(500, "At most 500 characters.")),
    label: text(60, "What should the button say?"),
  }),
  async run(scope, { secret, ...content }) {
    if (!(await saveProvider(scope, { ...content, secret: secret || null })))
      throw new Invalid({ secret: "The provider gave a secret with the client ID: write it here." });
    return here();
  },
});

const turning = intent({
  schema: z.object({ on: z.enum(["yes", "no"]) }),
  async run(scope, { on }) {
    if (!(await turnProvider(scope, on === "yes")))
      throw new Invalid({ form: "Try it first: what was set has not signed anyone in yet." });
    return here();
  },
});

const removing = intent({
  schema: z.object({}),
  async run(scope) {
    if (!(await removeProvider(scope))) notFound();
    return here();
  },
});

export const action = defineIntents({
  permission: "staff.edit",
  intents: { save: saving, turn: turning, remove: removing },
});

type Set = NonNullable<Route.ComponentProps["loaderData"]["provider"]>;

/** Whether people sign in by the provider, and what comes next. */
function State({ provider, schoolId, busy }: { provider: Set; schoolId: string; busy: boolean }) {
  const { isOn, tested, label } = provider;
  return (
    <section aria-labelledby="state" className="mt-8">
      <h2 id="state" className="text-lg font-bold">
        {isOn ? "On" : "Off"}
      </h2>
      <p className="mt-1 text-[0.9375rem]">
        {isOn
          ? `The sign-in page has the button “${label}”.`
          : tested
            ? "It was tried, and it works. Turn it on for everyone."
            : "Try it once, with your own account there. Then it can be turned on."}
        {tested ? <span className="text-soft"> Tried {momentWords(tested)}.</span> : null}
      </p>
      <div className="mt-3 flex flex-wrap gap-3">
        <Link className="btn btn-plain" reloadDocument to={`/sign-in/provider/${schoolId}?test`}>
          Try it
        </Link>
        {tested ? (
          <Form method="post">
            <input type="hidden" name="on" value={isOn ? "no" : "yes"} />
            <button
              className={`btn ${isOn ? "btn-plain" : "btn-primary"}`}
              name="intent"
              value="turn"
              disabled={busy}
            >
              {isOn ? "Turn it off" : "Turn it on"}
            </button>
          </Form>
        ) : null}
        <Form method="post">
          <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
            Remove it
          </button>
        </Form>
      </div>
      <p className="mt-2 text-fine text-soft">
        Removing it ends the sessions that it opened. Passwords go on working.
      </p>
    </section>
  );
}

/** How people sign in with the account they have at the school anyway. */
export default function ProviderPage({
  loaderData: { provider, schoolId, back },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, field } = useForm(actionData);
  const search = useSearchParams()[0];
  const tested = search.get("tested");
  const problem = providerProblem(search.get("problem"));
  return (
    <div className="max-w-3xl">
      <PageTitle title="Sign-in by the school’s provider" className="sr-only" />
      <h2 className="font-serif text-lg font-semibold">Sign-in by the school’s provider</h2>
      <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
        With OpenID Connect, people sign in with the account that the school gives them anyway. It lets in who
        is in{" "}
        <Link className="link" to="/school/staff">
          Staff
        </Link>{" "}
        with the same e-mail and has an account here, or an invitation that is open, which it then uses.
        Nobody else is let in. What such a session opens is this school alone.
      </p>
      {tested ? (
        <p role="status" className="mt-3 w-fit rounded-lg bg-arrival px-4 py-2" dir="auto">
          It works: the provider named {tested}.
        </p>
      ) : null}
      {problem ? (
        <p role="alert" className="mt-3 rounded-lg border border-error px-4 py-2">
          {problem}
        </p>
      ) : null}
      <FormProblem>{problems["form"]}</FormProblem>
      {provider ? <State {...{ provider, schoolId, busy }} /> : null}
      <section aria-labelledby="settings" className="mt-8">
        <h2 id="settings" className="text-lg font-bold">
          Settings
        </h2>
        <p className="mt-1 text-[0.9375rem]">
          Register this site at the provider, with this address to come back to:
          <code className="mt-1 block w-fit rounded bg-base-200 px-2 py-1 break-all select-all">{back}</code>
        </p>
        <Form method="post" className="mt-3 grid max-w-xl gap-3" noValidate>
          <Field
            label="Address of the provider"
            hint="Its issuer, as “https://login.example.org”"
            type="url"
            {...field("issuer", provider?.issuer)}
          />
          <Field label="Client ID" autoComplete="off" {...field("clientId", provider?.clientId)} />
          <Field
            label="Client secret"
            type="password"
            autoComplete="off"
            name="secret"
            problem={problems["secret"]}
            hint={provider ? "Empty, it stays as it is." : "As the provider gave it"}
          />
          <Field
            label="On the button of the sign-in page"
            maxLength={60}
            {...field("label", provider?.label ?? "Sign in with your school account")}
          />
          <button className="btn btn-primary w-fit" name="intent" value="save" disabled={busy}>
            Save
          </button>
        </Form>
      </section>
    </div>
  );
}
