import { Link, redirect } from "react-router";
import { familyOf, leaveFamily } from "#server/auth/family.ts";
import { familyCookie } from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { listStudentNames } from "#server/db/family-access.ts";
import { familyPageWords } from "#core/words/family-page.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { FamilyFrame } from "./family-frame.tsx";
import type { Route } from "./+types/entrance";

/** With one student the way leads on; with several the family chooses; without a session it says how to come in. */
export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    const all = await familyOf(context.database, request, context.secure);
    const [only, ...more] = all;
    if (only && more.length === 0) throw redirect(`/family/${only.guardianId}`);
    return {
      language: only?.language ?? "en",
      students: await listStudentNames(context.database, all),
    };
  }, context.pulse);
}

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    await leaveFamily(context.database, request, context.secure);
    throw redirect("/family", {
      headers: { "Set-Cookie": familyCookie("", context.secure), "Clear-Site-Data": '"cache"' },
    });
  }, context.pulse);
}

export default function Entrance({ loaderData: { language, students } }: Route.ComponentProps) {
  const words = familyPageWords[language];
  if (students.length === 0)
    return (
      <FamilyFrame language="en" school="">
        <PageTitle title={familyPageWords.en.entranceTitle} className="font-serif text-2xl font-semibold" />
        <p className="mt-3">{familyPageWords.en.entrance}</p>
        <p className="mt-2">
          <Link className="link inline-flex min-h-11 items-center" to="/sign-in">
            {familyPageWords.en.withAccount}
          </Link>
        </p>
        <section lang="es" className="mt-8">
          <h2 className="font-serif text-2xl font-semibold">{familyPageWords.es.entranceTitle}</h2>
          <p className="mt-3">{familyPageWords.es.entrance}</p>
          <p className="mt-2">
            <Link className="link inline-flex min-h-11 items-center" to="/sign-in">
              {familyPageWords.es.withAccount}
            </Link>
          </p>
        </section>
      </FamilyFrame>
    );
  return (
    <FamilyFrame language={language} school="" mayLeave>
      <PageTitle title={words.chooseStudent} className="font-serif text-2xl font-semibold" />
      <ul className="mt-4 grid gap-3">
        {students.map(({ guardianId, name, schoolName }) => (
          <li key={guardianId}>
            <Link
              to={`/family/${guardianId}`}
              className="block border-l-4 border-base-300 px-4 py-3 no-underline hover:border-primary hover:bg-arrival"
            >
              <b className="font-serif text-lg font-semibold" dir="auto">
                {name}
              </b>
              <span className="block text-fine text-soft">{schoolName}</span>
            </Link>
          </li>
        ))}
      </ul>
    </FamilyFrame>
  );
}
