import * as z from "zod/mini";
import { data, Form, Link, redirect, useSearchParams } from "react-router";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent } from "#app/kit/define-action.server.ts";
import { listWrongAddresses } from "#server/db/message-lists.ts";
import { schoolMails } from "#server/db/mail-settings.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { makeLink } from "#server/auth/links.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import {
  listAccountsHere,
  readSecondStepFor,
  revokeTickets,
  saveSecondStepFor,
  secondStepFor,
} from "#server/db/tickets.ts";
import { listStaff } from "#server/db/staff.ts";
import { Invalid } from "#server/errors.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { accountLine, type AccountLine, stateWords } from "./account-words.ts";
import { handed, HandedLinks } from "./handed-links.tsx";
import { qrOf } from "#app/kit/qr.server.ts";
import type { Route } from "./+types/accounts";

async function readLines(scope: PersonScope): Promise<AccountLine[]> {
  const accounts = await listAccountsHere(scope);
  return (await listStaff(scope))
    .filter(({ leftOn }) => leftOn === null || leftOn >= scope.today)
    .map((one) => accountLine(one, accounts.get(one.personId), scope.timeZone));
}

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "staff.edit", null, async (scope) => ({
    mails: context.mails === true || (await schoolMails(scope)),
    lines: await readLines(scope),
    refused: Object.fromEntries(await listWrongAddresses(scope)),
    asksFor: await readSecondStepFor(scope),
  }));
}

/** Invites one person, or all who have an e-mail and neither an account nor an open invitation. */
const inviting = intent({
  schema: z.object({ personId: z.union([id, z.literal("everyone")]) }),
  async run(scope, { personId }, { site }) {
    const wanted =
      personId === "everyone"
        ? (await readLines(scope)).flatMap((line) =>
            line.state === "not invited" || line.state === "run out" ? line.personId : [],
          )
        : [personId];
    const links = [];
    for (const one of wanted) {
      const link = await makeLink(scope, "invitation", one, site);
      if (link) links.push(handed(link, qrOf(link.url)));
    }
    if (links.length === 0)
      throw new Invalid({
        form: "There is nobody to invite: an invitation needs an e-mail, and no account of this school yet.",
      });
    return data({ problems: {}, links });
  },
});

const takingBack = intent({
  schema: z.object({ personId: id }),
  async run(scope, { personId }) {
    await revokeTickets(scope, personId);
    return redirect("/school/accounts?done=taken-back");
  },
});

const askingForStep = intent({
  schema: z.object({ secondStepFor: z.enum(secondStepFor, "Choose one of the three.") }),
  async run(scope, { secondStepFor }) {
    await saveSecondStepFor(scope, secondStepFor);
    return redirect("/school/accounts?done=asked");
  },
});

export const action = defineIntents({
  permission: "staff.edit",
  intents: { invite: inviting, "take back": takingBack, "ask for a second step": askingForStep },
});

const stepChoices = [
  ["nobody", "nobody"],
  ["administrators", "administrators"],
  ["administrators and case managers", "administrators and case managers"],
] as const;

const marks = {
  "has an account": "●",
  invited: "◐",
  "run out": "◌",
  "not invited": "○",
  "no e-mail": "○",
} as const;

function Line({ line, busy, refusedWith }: { line: AccountLine; busy: boolean; refusedWith: string | null }) {
  const { personId, name, position, state } = line;
  const button = (value: string, label: string) => (
    <Form method="post" preventScrollReset>
      <input type="hidden" name="personId" value={personId} />
      <button className="btn btn-plain btn-sm" name="intent" value={value} disabled={busy}>
        {label}
        <span className="sr-only">: {name}</span>
      </button>
    </Form>
  );
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-base-300 py-2">
      <span aria-hidden="true" className="w-4 text-soft">
        {marks[state]}
      </span>
      <div className="min-w-0 flex-1 basis-72">
        <p>
          <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
            {name}
          </b>{" "}
          <span className="text-[0.9375rem]" dir="auto">
            {position}
          </span>
        </p>
        <p className="text-fine break-words text-soft">{stateWords(line)}</p>
        {refusedWith ? (
          <p className="text-fine break-words">
            <b>Mail to {line.email} was refused:</b> “{refusedWith}”.{" "}
            <Link className="link" to="/dispatch?show=look">
              Correct it<span className="sr-only">: {name}</span>
            </Link>
          </p>
        ) : null}
      </div>
      <div className="flex flex-wrap gap-2">
        {state === "not invited" || state === "run out" ? button("invite", "Invite") : null}
        {state === "invited" ? button("invite", "New link") : null}
        {state === "invited" || line.hasReset ? button("take back", "Take the link back") : null}
        {state === "no e-mail" ? (
          <Link className="btn btn-plain btn-sm" to={`/school/staff/${personId}`}>
            Add an e-mail<span className="sr-only"> for {name}</span>
          </Link>
        ) : null}
        {state === "has an account" ? (
          <Link className="btn btn-plain btn-sm" to={`/school/accounts/${personId}`}>
            Sign-ins<span className="sr-only"> of {name}</span>
          </Link>
        ) : null}
      </div>
    </li>
  );
}

/** Who of the staff can sign in, who is invited, and the links that invite. */
export default function Accounts({
  loaderData: { lines, refused, mails, asksFor },
  actionData,
}: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems } = useForm(answered);
  const done = useSearchParams()[0].get("done");
  const links = answered && "links" in answered ? answered.links : null;
  const count = (...states: AccountLine["state"][]) =>
    lines.filter(({ state }) => states.includes(state)).length;
  const open = count("not invited", "run out");
  return (
    <>
      <PageTitle title="Accounts" className="sr-only" />
      <FormProblem>{problems["form"]}</FormProblem>
      {links ? <HandedLinks links={links} mails={mails} /> : null}
      {done && !links ? (
        <p role="status" className="mb-4 w-fit rounded-lg bg-arrival px-4 py-2">
          {done === "asked" ? "Saved." : "The link is taken back. It opens nothing any more."}
        </p>
      ) : null}
      <div className="no-print">
        <p className="max-w-3xl text-[0.9375rem]">
          {count("has an account")} of {lines.length} {plural(lines.length, "person", "people")} can sign in,{" "}
          {count("invited")} {plural(count("invited"), "is", "are")} invited.{" "}
          {mails
            ? "An invitation is mailed, and its link is shown here too."
            : "This server sends no mail: hand the links over yourself."}
        </p>
        <div className="mt-3 flex flex-wrap gap-3">
          <Link className="btn btn-primary" to="/school/accounts/several">
            Invite new colleagues
          </Link>
          <Link className="btn btn-plain" to="/school/provider">
            Sign-in by the school’s provider
          </Link>
          {open > 0 ? (
            <Form method="post">
              <input type="hidden" name="personId" value="everyone" />
              <button className="btn btn-plain" name="intent" value="invite" disabled={busy}>
                Invite {open === 1 ? "the one person" : `the ${open} people`} without an account
              </button>
            </Form>
          ) : null}
        </div>
        <ul className="mt-4 max-w-4xl">
          {lines.map((line) => (
            <Line
              key={line.personId}
              {...{ line, busy }}
              refusedWith={refused[line.email?.toLowerCase() ?? ""] ?? null}
            />
          ))}
        </ul>
        <p className="mt-3 max-w-3xl text-fine text-soft">
          What a person may do in the school, and their last day, is under{" "}
          <Link className="link" to="/school/staff">
            Staff
          </Link>
          . Which students they see is in each student’s circle.
        </p>
        <Form method="post" className="mt-8 grid max-w-2xl gap-2" preventScrollReset>
          <fieldset className="grid gap-1">
            <legend className="text-lg font-bold">Second step at sign-in</legend>
            <p className="text-[0.9375rem]">
              A code from an authenticator after the password. Each person can set it up for themselves; the
              school asks it of
            </p>
            {stepChoices.map(([value, label]) => (
              <label key={value} className="flex min-h-8 cursor-pointer items-center gap-2">
                <input
                  type="radio"
                  name="secondStepFor"
                  value={value}
                  defaultChecked={value === asksFor}
                  className="size-4.5 accent-primary"
                />
                {label}
              </label>
            ))}
          </fieldset>
          <button className="btn btn-plain w-fit" name="intent" value="ask for a second step" disabled={busy}>
            Save who is asked
          </button>
        </Form>
      </div>
    </>
  );
}
