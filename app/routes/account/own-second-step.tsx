import { useState } from "react";
import * as z from "zod/mini";
import { data, Form, Link, redirect } from "react-router";
import { localMoment } from "#core/dates/school-time.ts";
import { plural } from "#core/words/numbers.ts";
import { makePasskey } from "#app/kit/ask-passkey.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { authorize } from "#server/access/authorize.ts";
import { confirmWith, giveUpStep, ownSecondStep, setUpSecondStep } from "#server/auth/second-step.ts";
import { ownPasskeys, removePasskey } from "#server/auth/passkeys.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { readToken } from "#server/auth/session.ts";
import { recordEvent } from "#server/db/events.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { qrOf } from "#app/kit/qr.server.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { readForm, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { QrSquare } from "#app/ui/qr-square.tsx";
import { useAwake } from "#app/ui/use-awake.ts";
import type { Route } from "./+types/own-second-step";

export async function loader({ request, context }: Route.LoaderArgs) {
  const { missesStep } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  const token = readToken(request, context.secure) ?? "";
  const set = await ownSecondStep(context.database, token);
  const toSetUp = set?.isConfirmed ? null : await setUpSecondStep(context.database, token);
  const { timeZone } = await authorize(request, context, "own-settings.keep", null, (scope) =>
    Promise.resolve({ timeZone: scope.timeZone }),
  );
  const local = (moment: string) => localMoment(timeZone, Date.parse(moment));
  return {
    missesStep,
    passkeys: (await ownPasskeys(context.database, token)).map(({ credentialId, name, madeAt, usedAt }) => ({
      ...{ credentialId, name, made: local(madeAt), used: usedAt && local(usedAt) },
    })),
    codesLeft: set?.isConfirmed ? set.codesLeft : null,
    toSetUp: toSetUp && { secret: toSetUp.secret, uri: toSetUp.uri, qr: qrOf(toSetUp.uri) },
  };
}

const forms = z.discriminatedUnion("intent", [
  z.object({
    intent: z.enum(["confirm", "new codes", "give up"]),
    code: text(40, "Type the six digits that your authenticator shows."),
  }),
  z.object({ intent: z.literal("remove the passkey"), credentialId: text(1400, "Which passkey?") }),
]);

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const { personId } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  const token = readToken(request, context.secure) ?? "";
  const read = readForm(form, forms);
  const wrong = (problems: Record<string, string>, status = 422) => data({ problems }, { status });
  if (!read.ok) return wrong(read.problems);
  const { values } = read;
  const noted = (act: "second step set" | "second step ended" | "passkey removed") =>
    authorize(request, context, "own-settings.keep", null, (scope) =>
      recordEvent(scope, { thing: "person", act, thingId: personId, studentId: null }),
    );
  if (values.intent === "remove the passkey") {
    if (await removePasskey(context.database, token, values.credentialId)) await noted("passkey removed");
    return redirect("/account/second-step");
  }
  const { intent, code } = values;
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
  await noted(intent === "give up" ? "second step ended" : "second step set");
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

type Passkey = Route.ComponentProps["loaderData"]["passkeys"][number];

/** Passkeys of this account, and a new one of this device. */
function Passkeys({ passkeys, busy }: { passkeys: readonly Passkey[]; busy: boolean }) {
  const [state, setState] = useState<{ waits: boolean; why?: string | undefined }>({ waits: false });
  const add = async (form: FormData) => {
    const text = (name: string) => {
      const value = form.get(name);
      return typeof value === "string" ? value.trim() : "";
    };
    setState({ waits: true });
    const why = await makePasskey(text("name") || "This device", text("password"));
    if (why !== null) setState({ waits: false, why });
  };
  return (
    <section aria-labelledby="passkeys" className="mt-10 max-w-2xl">
      <h2 id="passkeys" className="text-lg font-bold">
        Passkeys
      </h2>
      <p className="mt-1 leading-relaxed">
        A passkey is a key on your phone, computer or security key, opened with a finger, a face or a code. It
        signs you in by itself, and a password alone is then not enough any more.
      </p>
      {passkeys.length > 0 ? (
        <ul className="mt-2">
          {passkeys.map(({ credentialId, name, made, used }) => (
            <li
              key={credentialId}
              className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-base-300 py-2"
            >
              <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                {name}
              </b>
              <span className="text-fine text-soft">
                since {momentWords(made)} · {used ? `last used ${momentWords(used)}` : "not used yet"}
              </span>
              <Form method="post" className="ml-auto" preventScrollReset>
                <input type="hidden" name="credentialId" value={credentialId} />
                <button
                  className="btn btn-plain btn-sm"
                  name="intent"
                  value="remove the passkey"
                  disabled={busy}
                >
                  Remove<span className="sr-only"> the passkey {name}</span>
                </button>
              </Form>
            </li>
          ))}
        </ul>
      ) : null}
      <form
        className="with-scripts mt-4 grid max-w-md gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void add(new FormData(event.currentTarget));
        }}
      >
        <FormProblem>{state.why}</FormProblem>
        <Field
          label="Name of the device"
          name="name"
          dir="auto"
          maxLength={80}
          hint="My phone, desk computer."
        />
        <Field label="Current password" name="password" type="password" autoComplete="current-password" />
        <button className="btn btn-plain w-fit" disabled={state.waits}>
          {state.waits ? "Waiting for the device …" : "Add a passkey"}
        </button>
      </form>
    </section>
  );
}

/** A second step at sign-in: set up with an authenticator, new recovery codes, and the end of it. */
export default function OwnSecondStep({
  loaderData: { toSetUp, codesLeft, missesStep, passkeys },
  actionData,
}: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems } = useForm(answered);
  const codes = answered && "codes" in answered ? answered.codes : null;
  return (
    <main className="mx-auto w-full max-w-3xl px-6 py-8" data-ready={useAwake() || undefined}>
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
                <QrSquare
                  qr={toSetUp.qr}
                  className="size-44"
                  label="The key as a square; the same key is written beside it"
                />
                <p className="min-w-0 flex-1 basis-56 font-mono break-words select-all">
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
      {codes ? null : <Passkeys passkeys={passkeys} busy={busy} />}
    </main>
  );
}
