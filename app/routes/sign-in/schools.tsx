import * as z from "zod/mini";
import { data, Form, redirectDocument } from "react-router";
import {
  enterOwnFamily,
  familyCookie,
  isFamily,
  ownSchools,
  readToken,
  sessionCookie,
  switchSchool,
} from "#server/auth/session.ts";
import { authorize } from "#server/access/authorize.ts";
import { guarded } from "#server/access/answer.ts";
import { useForm } from "#app/kit/use-form.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, readForm } from "#app/ui/form-data.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import { ownPath } from "./own-path.ts";
import type { Route } from "./+types/schools";

export async function loader({ request, context }: Route.LoaderArgs) {
  const schools = await guarded(
    () => ownSchools(context.database, readToken(request, context.secure)),
    context.pulse,
  );
  const isGuardian = await isFamily(context.database, readToken(request, context.secure));
  return authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve({
      isFamily: isGuardian,
      to: ownPath(new URL(request.url).searchParams.get("to")),
      schools: schools.map(({ schoolId, name, position, role }) => ({
        ...{ schoolId, name, isHere: schoolId === actor.schoolId },
        tasks: [position, ...(role === "administrator" ? ["administrator"] : [])].filter(Boolean).join(", "),
      })),
    }),
  );
}

/** Turns the session to another school of the account. The page that follows is loaded whole: nothing of the school before stays in it. */
export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const { schoolId: here } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  return guarded(async () => {
    const read = readForm(
      form,
      z.object({ schoolId: z.union([id, z.literal("family")]), to: z.optional(z.string()) }),
    );
    const token = readToken(request, context.secure);
    if (!read.ok || token === null) return data({ problems: { form: "Choose a school." } }, { status: 422 });
    const { schoolId, to } = read.values;
    if (schoolId === "family") {
      const family = await enterOwnFamily(context.database, token);
      if (family === null)
        return data({ problems: { form: "No student’s family page is yours now." } }, { status: 403 });
      throw redirectDocument("/family", { headers: { "Set-Cookie": familyCookie(family, context.secure) } });
    }
    if (schoolId === here) throw redirectDocument(ownPath(to));
    const next = await switchSchool(context.database, token, schoolId);
    if (next === null) {
      const problems = { form: "You are not in this school today. Ask its administrator." };
      return data({ problems }, { status: 403 });
    }
    // A page of one school is not there in another.
    throw redirectDocument("/caseload", { headers: { "Set-Cookie": sessionCookie(next, context.secure) } });
  }, context.pulse);
}

/** Which school one works in now: after a sign-in with several, and whenever one turns to another. */
export default function Schools({
  loaderData: { schools, to, isFamily: isGuardian },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  return (
    <TitlePage
      title="Which school?"
      lead="What you see and record belongs to one school at a time. You can turn to the other at any moment."
    >
      <FormProblem>{problems["form"]}</FormProblem>
      <ul className="grid gap-3">
        {schools.map(({ schoolId, name, tasks, isHere }) => (
          <li key={schoolId}>
            <Form method="post">
              <input type="hidden" name="to" value={to} />
              <button
                name="schoolId"
                value={schoolId}
                disabled={busy}
                className="grid w-full cursor-pointer gap-0.5 border-l-4 border-base-300 px-4 py-3 text-left hover:border-primary hover:bg-arrival"
              >
                <b className="font-serif text-lg font-semibold">{name}</b>
                <span className="text-fine text-soft">
                  {[tasks, ...(isHere ? ["you are here now"] : [])].filter(Boolean).join(" · ")}
                </span>
              </button>
            </Form>
          </li>
        ))}
      </ul>
      {isGuardian ? (
        <Form method="post" className="mt-4">
          <button className="btn btn-plain w-full" name="schoolId" value="family" disabled={busy}>
            My family’s page
          </button>
        </Form>
      ) : null}
    </TitlePage>
  );
}
