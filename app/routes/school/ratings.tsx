import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { redirect } from "react-router";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { listStatementRatings, replaceStatementRatings } from "#server/db/statement-ratings.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { addedSince, readRows } from "#app/ui/typed-rows.ts";
import { WrittenList } from "#app/ui/written-list.tsx";
import type { Route } from "./+types/ratings";

const mostRatings = 12;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => ({
    ratings: await listStatementRatings(scope),
  }));
}

const ratingRow = z.object({
  ratingId: z._default(z.union([id, z.literal("")]), ""),
  name: text(60, "Write the rating as the form has it, or take the line out."),
  spanish: z._default(z.string().check(z.trim(), z.maxLength(60, "At most 60 characters.")), ""),
});

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { typed, wrong }) {
    const { values, problems } = readRows(typed, "rating", ratingRow);
    const names = values.map(({ value }) => value.name.toLowerCase());
    if (names.length > mostRatings) problems["rating"] = `At most ${mostRatings} ratings.`;
    if (new Set(names).size < names.length) problems["rating"] ??= "Two ratings have the same name.";
    if (Object.keys(problems).length > 0) return wrong(problems);
    const now = await listStatementRatings(scope);
    const sent = values.map(({ value }) => value);
    const next = [
      ...sent.map(({ ratingId, name, spanish }) => ({ ratingId: ratingId || newId(), name, spanish })),
      ...addedSince(
        typed,
        "rating",
        now,
        sent.map(({ ratingId }) => ratingId),
        ({ ratingId }) => ratingId,
      ),
    ];
    if (JSON.stringify(next) !== JSON.stringify(now)) await replaceStatementRatings(scope, next);
    return redirect("/school/ratings");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** The ratings on the school's progress reports. No list is standard, so the school is asked for its own. */
export default function Ratings({ loaderData: { ratings }, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <>
      <PageTitle title="Ratings of progress reports" className="sr-only" />
      <p className="mb-1 max-w-[46rem] text-[0.9375rem] text-soft">
        Districts rate progress in words of their own. Write the ratings as your district’s form has them. A
        rating that you rename is renamed in earlier statements, and in no edition; one that you remove stays
        in them.
      </p>
      {ratings.length === 0 ? (
        <p className="mb-2 max-w-[46rem] text-[0.9375rem]">
          No rating yet. Statements can be written without one; the first rating is written below.
        </p>
      ) : null}
      <KeptForm draft="ratings" method="post" className="grid max-w-3xl gap-6" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <WrittenList
          prefix="rating"
          title="Ratings, in the order of the form"
          one="rating"
          maxLength={60}
          identity="ratingId"
          blank={{ ratingId: "", spanish: "" }}
          rows={ratings.map(({ ratingId, name, spanish }) => ({ ratingId, name, spanish }))}
          beside={({ row }, name, set) => (
            <textarea
              className="written beside"
              rows={1}
              name={name("spanish")}
              aria-label={`${row["name"] || "the rating"} in Spanish`}
              placeholder="in Spanish (optional)"
              lang="es"
              maxLength={60}
              value={row["spanish"] ?? ""}
              onChange={({ target }) => set({ spanish: target.value })}
            />
          )}
          {...{ typed, problems }}
        />
        <SaveBar busy={busy}>Save the ratings</SaveBar>
      </KeptForm>
    </>
  );
}
