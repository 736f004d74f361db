import * as z from "zod/mini";
import { v7 as newId } from "uuid";
import { Form, Link, redirect } from "react-router";
import { localMoment } from "#core/dates/school-time.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useProgress } from "#app/kit/use-progress.ts";
import { authorize } from "#server/access/authorize.ts";
import { listMessages } from "#server/db/message-lists.ts";
import { addMessages } from "#server/db/messages.ts";
import {
  readMessageSettings,
  readOwnMailServer,
  removeOwnMailServer,
  saveMessageSettings,
  saveOwnMailServer,
} from "#server/db/mail-settings.ts";
import { addressIn, mailPorts } from "#core/dispatch/mail-address.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { email, text } from "#app/ui/form-data.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { StateOf } from "../dispatch/message-line.tsx";
import type { Route } from "./+types/mail";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "staff.edit", null, async (scope) => {
    const server = await readOwnMailServer(scope);
    const own = await listMessages(scope, { readerId: scope.actor.personId }, 50);
    return {
      server: server && {
        ...server,
        tested: server.testedAt && localMoment(scope.timeZone, Date.parse(server.testedAt)),
      },
      installation: context.mails === true,
      settings: await readMessageSettings(scope),
      test: own.find(({ kind }) => kind === "test") ?? null,
    };
  });
}

const here = () => redirect("/school/mail");

const saving = intent({
  schema: z.object({
    host: text(255, "Write the name of the server.").check(
      z.regex(/^[a-z0-9]([a-z0-9.:-]*[a-z0-9])?$/i, "Write the name alone, as “smtp.example.org”."),
    ),
    port: z
      .string()
      .check(z.refine((typed) => mailPorts.some((port) => String(port) === typed), "Choose a port.")),
    security: z.enum(["tls", "starttls", "none"]),
    username: z.string().check(z.trim(), z.maxLength(300, "At most 300 characters.")),
    password: z.string().check(z.maxLength(500, "At most 500 characters.")),
    fromName: z
      .string()
      .check(
        z.trim(),
        z.maxLength(60, "At most 60 characters."),
        z.regex(/^[^<>"\r\n]*$/, "Please write it without < > and quotation marks."),
      ),
    from: email,
  }),
  async run(scope, { host, port, security, username, password, fromName, from }) {
    await saveOwnMailServer(scope, {
      ...{ host, port: Number(port), security, username: username || null, password: password || null },
      from: fromName ? `${fromName} <${from}>` : from,
    });
    return here();
  },
});

const testing = intent({
  schema: z.object({}),
  async run(scope, _, { wrong }: Submitted<object>) {
    const [last] = await listMessages(
      scope,
      { readerId: scope.actor.personId, states: ["waiting", "sending"] },
      1,
    );
    if (last?.kind === "test") return wrong({ test: "A test message is on its way. Its state is below." });
    await addMessages(scope, [
      {
        ...{ messageId: newId(), kind: "test", reader: { personId: scope.actor.personId } },
        ...{ studentId: null, about: {} },
      },
    ]);
    return here();
  },
});

const removing = intent({
  schema: z.object({}),
  async run(scope) {
    await removeOwnMailServer(scope);
    return here();
  },
});

const settingsSaving = intent({
  schema: z.object({
    dailyLimit: z.string().check(
      z.trim(),
      z.refine(
        (typed) =>
          typed === "" || (/^\d{1,6}$/.test(typed) && Number(typed) >= 1 && Number(typed) <= 100_000),
        "Write a number from 1 to 100,000, or nothing.",
      ),
    ),
    team: z.optional(z.literal("yes")),
    family: z.optional(z.literal("yes")),
  }),
  async run(scope, { dailyLimit, team, family }) {
    await saveMessageSettings(scope, {
      dailyLimit: dailyLimit === "" ? null : Number(dailyLimit),
      contentFor: [...(team ? (["team"] as const) : []), ...(family ? (["family"] as const) : [])],
    });
    return here();
  },
});

export const action = defineIntents({
  permission: "staff.edit",
  intents: { save: saving, test: testing, remove: removing, settings: settingsSaving },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Data = Route.ComponentProps["loaderData"];

/** What is used now, and whether it works. */
function Now({
  data: { server, installation, test },
  busy,
  problem,
}: {
  data: Data;
  busy: boolean;
  problem: string | undefined;
}) {
  const isUnderWay = test !== null && ["waiting", "sending"].includes(test.state);
  useProgress(isUnderWay);
  const can = server !== null || installation;
  return (
    <section aria-labelledby="now" className="mt-4">
      <h2 id="now" className="text-lg font-bold">
        {server?.isOn
          ? `This school sends by ${server.host}`
          : installation
            ? "This school sends by the mail server of this installation"
            : "Nothing is sent yet"}
      </h2>
      <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
        {server && !server.isOn
          ? `${server.host} is set and not used yet. Send a test message: once the server takes it, it is used.`
          : can
            ? "A test message goes to your own address."
            : "Links and codes are shown to the person who hands them over. Set a mail server below."}
        {server?.tested ? (
          <span className="text-soft"> It took a test on {momentWords(server.tested)}.</span>
        ) : null}
      </p>
      {can ? (
        <Form method="post" className="mt-3" preventScrollReset>
          <button className="btn btn-primary" name="intent" value="test" disabled={busy || isUnderWay}>
            Send a test message
          </button>
        </Form>
      ) : null}
      <FormProblem>{problem}</FormProblem>
      {test ? (
        <p className="mt-2" role="status">
          Last test: <StateOf message={test} />
          {test.answer ? (
            <span className="block text-fine text-soft" dir="auto">
              The server answered: “{test.answer}”
            </span>
          ) : null}{" "}
          <Link className="link text-fine" to={`/dispatch/${test.messageId}`}>
            Look at it
          </Link>
        </p>
      ) : null}
    </section>
  );
}

/** The mail server of the school, and how it sends. */
export default function MailPage({ loaderData, actionData }: Route.ComponentProps) {
  const { server, settings } = loaderData;
  const { busy, problems, field, typed } = useForm(actionData);
  const fromName = server ? server.from.replace(/\s*<[^>]*>$/, "") : "";
  const address = server ? addressIn(server.from) : "";
  return (
    <div className="max-w-3xl">
      <PageTitle title="Mail" className="sr-only" />
      <Now data={loaderData} busy={busy} problem={problems["test"]} />
      <section aria-labelledby="server" className="mt-8">
        <h2 id="server" className="text-lg font-bold">
          The school’s own mail server
        </h2>
        <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
          Your school’s mail provider has these. The password is stored on this server and never shown again.
        </p>
        <Form method="post" className="mt-3 grid max-w-xl grid-cols-1 gap-3" noValidate preventScrollReset>
          <Field
            label="Server"
            hint="As “smtp.example.org”"
            autoComplete="off"
            {...field("host", server?.host)}
          />
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
            <Select
              label="Port"
              {...field("port", String(server?.port ?? 587))}
              options={mailPorts.map((port) => [String(port), String(port)] as const)}
            />
            <Select
              label="Encryption"
              {...field("security", server?.security ?? "starttls")}
              options={[
                ["starttls", "Required (STARTTLS)"],
                ["tls", "From the first byte (TLS)"],
                ["none", "Where the server offers it"],
              ]}
            />
          </div>
          <Field label="User name" autoComplete="off" {...field("username", server?.username)} />
          <Field
            label="Password"
            type="password"
            autoComplete="new-password"
            name="password"
            problem={problems["password"]}
            hint={
              server?.hasPassword
                ? "Left empty, the password stays as it is."
                : "Empty where the server asks for none"
            }
          />
          <Field
            label="Name of the sender"
            hint="As the school is called"
            maxLength={60}
            {...field("fromName", fromName === address ? "" : fromName)}
          />
          <Field label="Address of the sender" type="email" {...field("from", address)} />
          <div className="flex flex-wrap gap-3">
            <button className="btn btn-primary" name="intent" value="save" disabled={busy}>
              Save
            </button>
            {server ? (
              <button className="btn btn-plain" name="intent" value="remove" formNoValidate disabled={busy}>
                Remove it
              </button>
            ) : null}
          </div>
        </Form>
      </section>
      <section aria-labelledby="how" className="mt-8">
        <h2 id="how" className="text-lg font-bold">
          How much, and what
        </h2>
        <Form method="post" className="mt-3 grid max-w-xl grid-cols-1 gap-3" noValidate preventScrollReset>
          <Field
            label="At most so many messages a day"
            hint="Empty: no limit. What is over it goes the next day. Invitations, codes and messages about an injury or restraint always go."
            inputMode="numeric"
            {...field("dailyLimit", settings.dailyLimit === null ? "" : String(settings.dailyLimit))}
          />
          <fieldset className="min-w-0">
            <legend className="font-bold">Messages may hold what was recorded</legend>
            <p className="text-fine text-soft">
              Otherwise they hold initials and a link. Mail can be read on its way and on a locked phone.
            </p>
            {(
              [
                ["team", "for the team"],
                ["family", "for families"],
              ] as const
            ).map(([audience, words]) => (
              <label key={audience} className="flex min-h-11 cursor-pointer items-center gap-3">
                <input
                  type="checkbox"
                  name={audience}
                  value="yes"
                  defaultChecked={typed ? typed[audience] === "yes" : settings.contentFor.includes(audience)}
                />
                {words}
              </label>
            ))}
          </fieldset>
          <button className="btn btn-primary w-fit" name="intent" value="settings" disabled={busy}>
            Save how much
          </button>
        </Form>
      </section>
    </div>
  );
}
