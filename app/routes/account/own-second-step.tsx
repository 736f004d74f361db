import * as z from "zod/mini";
import { data, Form, Link, redirect } from "react-router";
import { plural } from "#core/words/numbers.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { confirmWith, giveUpStep, ownSecondStep, setUpSecondStep } from "#server/auth/second-step.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { readToken } from "#server/auth/session.ts";
import { recordEvent } from "#server/db/events.ts";
import { qrOf } from "#app/routes/school/qr.server.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { readForm, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/own-second-step";

export async function loader({ request, context }: Route.LoaderArgs) {
  const { missesStep } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  const token = readToken(request, context.secure) ?? "";
  const set = await ownSecondStep(context.database, token);
  const toSetUp = set?.isConfirmed ? null : await setUpSecondStep(context.database, token);
  return {
    missesStep,
    codesLeft: set?.isConfirmed ? set.codesLeft : null,
    toSetUp: toSetUp && { secret: toSetUp.secret, uri: toSetUp.uri, qr: qrOf(toSetUp.uri) },
  };
}

const forms = z.object({
  intent: z.enum(["confirm", "new codes", "give up"]),
  code: text(40, "Type the six digits that your authenticator shows."),
});

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const { personId } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  const token = readToken(request, context.secure) ?? "";
  const read = readForm(form, forms);
  const wrong = (problems: Record<string, string>, status = 422) => data({ problems }, { status });
  if (!read.ok) return wrong(read.problems);
  const { intent, code } = read.values;
  const done =
    intent === "give up"
      ? await giveUpStep(context.database, token, code)
      : await confirmWith(context.database, token, code);
  if (isSlowDown(done))
    return wrong({ code: "Too many wrong codes. Please wait a quarter of an hour." }, 429);
  if (done === "wrong")
    return wrong({
      code: "This is not the code of this moment, or it was used before. Wait for the next one.",
    });
  const act = intent === "give up" ? "second step ended" : "second step set";
  await authorize(request, context, "own-settings.keep", null, (scope) =>
    recordEvent(scope, { thing: "person", act, thingId: personId, studentId: null }),
  );
  if (done === true) return redirect("/account?done=step-ended");
  return data({ problems: {}, codes: done });
}

function Code({ problem }: { problem: string | undefined }) {
  return (
    <Field
      label="Code"
      name="code"
      inputMode="numeric"
      autoComplete="one-time-code"
      className="w-48"
      problem={problem}
    />
  );
}

function Codes({ codes }: { codes: readonly string[] }) {
  return (
    <section aria-labelledby="codes" className="max-w-xl">
      <div role="status">
        <h2 id="codes" className="text-lg font-bold">
          Your recovery codes
        </h2>
      </div>
      <p className="mt-1 leading-relaxed">
        From now on you are asked for a code when you sign in. Where the authenticator is not at hand, one of
        these does instead, each of them once. Print them or write them down: they are shown only now.
      </p>
      <ul className="my-4 grid w-fit grid-cols-2 gap-x-10 gap-y-1 font-mono text-lg">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <Link className="btn btn-primary no-print" to="/account">
        I have them on paper
      </Link>
    </section>
  );
}

/** A second step at sign-in: set up with an authenticator, new recovery codes, and the end of it. */
export default function OwnSecondStep({
  loaderData: { toSetUp, codesLeft, missesStep },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  const codes = actionData && "codes" in actionData ? actionData.codes : null;
  return (
    <main className="mx-auto w-full max-w-3xl px-6 py-8">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-6 border-b border-base-300 pb-2">
        <PageTitle title="Second step at sign-in" />
        {missesStep || codes ? null : (
          <Link className="link ml-auto" to="/account">
            Back to my account
          </Link>
        )}
      </header>
      {codes ? (
        <Codes codes={codes} />
      ) : toSetUp ? (
        <section aria-label="Set it up" className="max-w-2xl">
          {missesStep ? (
            <p role="status" className="mb-4 rounded-lg bg-arrival px-4 py-2 font-bold">
              Your school asks you for a second step. Set it up now; then you can go on.
            </p>
          ) : null}
          <p className="leading-relaxed">
            After the password you are asked for a code of six digits from an authenticator, an app on your
            phone. It works without a network. A password that was read or guessed is then not enough.
          </p>
          <ol className="mt-4 grid list-decimal gap-5 pl-5">
            <li>
              Let the authenticator read this square, or type the key into it.
              <div className="mt-2 flex flex-wrap items-center gap-5">
                <svg
                  viewBox={`-3 -3 ${toSetUp.qr.size + 6} ${toSetUp.qr.size + 6}`}
                  className="size-44 rounded bg-white"
                  role="img"
                  aria-label="The key as a square; the same key is written beside it"
                  shapeRendering="crispEdges"
                >
                  <path d={toSetUp.qr.path} fill="#000" />
                </svg>
                <p className="min-w-0 flex-1 basis-56 font-mono break-all select-all">
                  {toSetUp.secret.replaceAll(/(.{4})/g, "$1 ")}
                </p>
              </div>
            </li>
            <li>
              Type the code that it shows.
              <Form method="post" className="mt-2 grid gap-3" noValidate>
                <FormProblem>{problems["form"]}</FormProblem>
                <Code problem={problems["code"]} />
                <button className="btn btn-primary w-fit" name="intent" value="confirm" disabled={busy}>
                  Switch the second step on
                </button>
              </Form>
            </li>
          </ol>
        </section>
      ) : (
        <section aria-label="It is on" className="max-w-2xl">
          <p className="leading-relaxed">
            The second step is on. You have {codesLeft ?? 0} recovery {plural(codesLeft ?? 0, "code")} left.
          </p>
          <Form method="post" className="mt-4 grid gap-3" noValidate>
            <Code problem={problems["code"]} />
            <div className="flex flex-wrap gap-3">
              <button className="btn btn-plain" name="intent" value="new codes" disabled={busy}>
                Make ten new recovery codes
              </button>
              <button className="btn btn-plain" name="intent" value="give up" disabled={busy}>
                Switch the second step off
              </button>
            </div>
          </Form>
        </section>
      )}
    </main>
  );
}
