import { districtSchools, readToken } from "#server/auth/session.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/district";

export async function loader({ request, context }: Route.LoaderArgs) {
  const schools = await authorize(request, context, "own-settings.keep", null, () =>
    districtSchools(context.database, readToken(request, context.secure)),
  );
  // For any other account there is no such page.
  return authorize(request, context, "own-settings.keep", null, () =>
    Promise.resolve({ schools: schools ?? notFound() }),
  );
}

/** The schools of this installation and who runs them. No student is named or counted here. */
export default function District({ loaderData: { schools } }: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 border-b border-base-300 pb-2">
        <PageTitle title="Schools of the district" />
      </header>
      <ul className="max-w-4xl">
        {schools.map(({ schoolId, name, madeAt, people, administrators }) => (
          <li key={schoolId} className="border-b border-base-300 py-3">
            <p className="flex flex-wrap items-baseline gap-x-4">
              <b className="font-serif text-[1.15rem] font-semibold" dir="auto">
                {name}
              </b>
              <span className="text-fine text-soft">
                {people} {plural(people, "person", "people")}, since {dateWithYear(madeAt.slice(0, 10))}
              </span>
            </p>
            <p className="mt-1">
              {administrators.length === 0 ? (
                <span className="font-bold text-error">No administrator works here now.</span>
              ) : (
                administrators.map(({ name: called, email }, at) => (
                  <span key={called + String(email)}>
                    {at > 0 ? ", " : "Administrators: "}
                    <span dir="auto">{called}</span>
                    {email ? (
                      <>
                        {" "}
                        <a className="link" href={`mailto:${email}`}>
                          {email}
                        </a>
                      </>
                    ) : null}
                  </span>
                ))
              )}
            </p>
          </li>
        ))}
      </ul>
      <p className="mt-4 max-w-3xl text-fine text-soft">
        Another school is made by the person who runs this server, with a command that the manual describes.
        Students and their records are seen in their own school only.
      </p>
    </main>
  );
}
