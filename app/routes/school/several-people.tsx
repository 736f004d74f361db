import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Link } from "react-router";
import { readPeople } from "#core/model/read-people.ts";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { schoolMails } from "#server/db/mail-settings.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { makeLink } from "#server/auth/links.ts";
import { authorize } from "#server/access/authorize.ts";
import { listStaff, saveStaff } from "#server/db/staff.ts";
import { Invalid } from "#server/errors.ts";
import { FormProblem, TextArea } from "#app/ui/field.tsx";
import { email, type Problems, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { handed, HandedLinks } from "./handed-links.tsx";
import { qrOf } from "#app/kit/qr.server.ts";
import type { Route } from "./+types/several-people";

const most = 100;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "staff.edit", null, async (scope) => ({
    mails: context.mails === true || (await schoolMails(scope)),
  }));
}

const personSchema = z.object({
  email: z
    .string()
    .check(z.minLength(1, "has no e-mail"), z.maxLength(254, "has an e-mail that is too long")),
  given: text(100, "has no name"),
  family: text(100, "has no family name"),
  position: z.string().check(z.maxLength(100, "has a position of more than 100 characters")),
});

type Invited = z.output<typeof personSchema>;

/** What of a list can be invited; or the first line that cannot, and why. */
function readInvited(list: string, known: ReadonlyMap<string, string>): Invited[] {
  const read = readPeople(list);
  const wrong = (at: number, why: string): never => {
    throw new Invalid({ people: `Line ${at + 1} ${why}. Nobody was invited yet.` });
  };
  if (read.length === 0) throw new Invalid({ people: "Write or paste at least one line." });
  if (read.length > most)
    throw new Invalid({ people: `These are ${read.length} people; at most ${most} at once.` });
  const seen = new Set<string>();
  return read.map((person, at) => {
    const checked = personSchema.safeParse(person);
    if (!checked.success) return wrong(at, checked.error.issues[0]?.message ?? "cannot be read");
    if (!email.safeParse(person.email).success) wrong(at, "has no complete e-mail");
    const there = known.get(person.email);
    if (there !== undefined) wrong(at, `has the e-mail of ${there}, who is on the staff already`);
    if (seen.has(person.email)) wrong(at, "has an e-mail that is in this list twice");
    seen.add(person.email);
    return checked.data;
  });
}

/** Adds the people of a list to the staff and invites each of them; all or none. */
const inviting = intent({
  schema: z.object({ people: z.string().check(z.maxLength(20_000, "At most 20,000 characters.")) }),
  async run(scope, { people }, { site }) {
    const known = new Map(
      (await listStaff(scope)).flatMap((one): [string, string][] =>
        one.email === null ? [] : [[one.email, `${one.givenName} ${one.familyName}`]],
      ),
    );
    const links = [];
    for (const { given, family, email, position } of readInvited(people, known)) {
      const personId = newId();
      await saveStaff(scope, {
        ...{ personId, givenName: given, familyName: family, email, position },
        ...{ role: "staff", caseManager: false, leftOn: null },
      });
      const link = await makeLink(scope, "invitation", personId, site);
      if (link) links.push(handed(link, qrOf(link.url)));
    }
    const problems: Problems = {};
    return data({ problems, links });
  },
});

export const action = defineIntents({
  permission: "staff.edit",
  intents: { invite: inviting },
  otherwise: "invite",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** New colleagues from a list: they are added to the staff and invited at once. */
export default function SeveralPeople({ loaderData: { mails }, actionData }: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems, field } = useForm(answered);
  const links = answered && "links" in answered ? answered.links : null;
  return (
    <>
      <p className="no-print mb-2 text-fine">
        <Link className="link" to="/school/accounts">
          Accounts
        </Link>
      </p>
      <PageTitle title="Invite new colleagues" className="mb-3 font-serif text-[1.4rem] font-semibold" />
      {links ? (
        <>
          <p role="status" className="mb-4 max-w-3xl">
            {links.length} {plural(links.length, "person is", "people are")} on the staff now. Who carries a
            caseload or helps to run the school is set under{" "}
            <Link className="link" to="/school/staff">
              Staff
            </Link>
            .
          </p>
          <HandedLinks {...{ links, mails }} />
        </>
      ) : (
        <KeptForm draft="invite" method="post" className="grid max-w-3xl gap-4" noValidate>
          <FormProblem>{problems["form"]}</FormProblem>
          <TextArea
            label="One person a line: name, e-mail, position"
            {...field("people")}
            rows={8}
            dir="auto"
            hint="Ana Ruiz, ana.ruiz@yourschool.example, Classroom aide. The position may be left out. A list from a mail program or a table can be pasted as it is."
          />
          <button className="btn btn-primary w-fit" disabled={busy}>
            {busy ? "Inviting …" : "Invite them"}
          </button>
        </KeptForm>
      )}
    </>
  );
}
