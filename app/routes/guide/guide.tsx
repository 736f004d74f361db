import { Link, NavLink } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { guideContents } from "./contents.ts";
import { guidePage } from "./pages.ts";
import type { Route } from "./+types/guide";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "guide.read", null, () => {
    const slug = params.page ?? guideContents[0].slug;
    if (!guidePage(slug)) notFound();
    return Promise.resolve({ slug });
  });
}

/** How the application is used: eight short pages, each with a picture. */
export default function Guide({ loaderData: { slug } }: Route.ComponentProps) {
  const page = guidePage(slug);
  if (!page) return null;
  const at = guideContents.findIndex((one) => one.slug === slug);
  const next = guideContents[at + 1];
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-base-300 pb-3">
        <PageTitle title={page.title} of="Guide" />
        <Link to="/guide/one-page" className="btn btn-plain btn-sm no-print ml-auto">
          One page to print
        </Link>
      </header>
      <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[11rem_minmax(0,1fr)]">
        <nav aria-label="Pages of the guide" className="no-print">
          <ol className="flex flex-wrap gap-x-3 lg:block">
            {guideContents.map((one) => (
              <li key={one.slug}>
                <NavLink
                  to={`/guide/${one.slug}`}
                  className={`inline-flex min-h-9 items-center no-underline ${one.slug === slug ? "font-bold" : "text-soft"}`}
                  aria-current={one.slug === slug ? "page" : undefined}
                >
                  {one.title}
                </NavLink>
              </li>
            ))}
          </ol>
        </nav>
        <article className="max-w-[46rem]">
          <img
            src={page.picture}
            alt={page.alt}
            loading="lazy"
            className="mb-4 h-auto w-full rounded-lg border border-base-300"
          />
          {page.paragraphs.map((words) => (
            <p key={words} className="mb-3 font-serif text-[1.05rem] leading-relaxed">
              {words}
            </p>
          ))}
          <ol className="list-decimal space-y-1.5 pl-6">
            {page.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
          {next ? (
            <p className="no-print mt-6">
              <Link to={`/guide/${next.slug}`} className="btn btn-plain">
                Next: {next.title}
              </Link>
            </p>
          ) : null}
        </article>
      </div>
    </main>
  );
}
