import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { redirect } from "react-router";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { listJotCategories, replaceJotCategories } from "#server/db/jot-categories.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, type Problems, text } from "#app/ui/form-data.ts";
import { NamedLists } from "#app/ui/named-lists.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { addedSince, readRows, type TypedRow } from "#app/ui/typed-rows.ts";
import { WrittenList } from "#app/ui/written-list.tsx";
import type { Route } from "./+types/jots";

/** The names under which the levels of one category are sent. */
const levelsOf = (categoryId: string) => `levels-${categoryId || "new"}`;
const mostLevels = 10;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => ({
    categories: await listJotCategories(scope),
  }));
}

const categoryRow = z.object({
  categoryId: z._default(z.union([id, z.literal("")]), ""),
  name: text(60, "Give the category a name."),
  retired: z._default(z.enum(["yes", ""]), ""),
});
const levelRow = z.object({
  levelId: z._default(z.union([id, z.literal("")]), ""),
  name: text(80, "Write what the level is called, or take the line out."),
  definition: z._default(z.string().check(z.trim(), z.maxLength(300, "At most 300 characters.")), ""),
});

/** The categories as they were typed, each with its levels. */
function readCategories(typed: Readonly<Record<string, string>>) {
  const { values, problems } = readRows(typed, "category", categoryRow);
  const categories = values.map(({ value: { categoryId, name, retired } }) => {
    const prefix = levelsOf(categoryId);
    const levels = readRows(typed, prefix, levelRow);
    const names = levels.values.map(({ value }) => value.name.toLowerCase());
    if (retired !== "yes") {
      const wrong: Problems = { ...levels.problems };
      if (names.length > mostLevels) wrong[prefix] = `At most ${mostLevels} levels.`;
      if (new Set(names).size < names.length) wrong[prefix] ??= "Two levels have the same name.";
      Object.assign(problems, wrong);
    }
    return {
      ...{ categoryId, name, isRetired: retired === "yes" },
      levels: levels.values.map(({ value: { levelId, name: called, definition } }) => ({
        ...{ levelId: levelId || newId(), name: called, meaning: definition },
      })),
    };
  });
  const names = categories.filter(({ isRetired }) => !isRetired).map(({ name }) => name.toLowerCase());
  if (new Set(names).size < names.length) problems["form"] = "Two categories have the same name.";
  return { categories, problems };
}

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { typed, wrong }) {
    const { categories, problems } = readCategories(typed);
    if (Object.keys(problems).length > 0) return wrong(problems);
    const now = await listJotCategories(scope);
    const known = categories.map(({ categoryId }) => categoryId);
    const next = [
      ...categories.flatMap(({ isRetired, ...category }) => (isRetired ? [] : category)),
      ...addedSince(typed, "category", now, known, ({ categoryId }) => categoryId),
    ].map(({ categoryId, name, levels }) => ({
      ...{ categoryId: isId(categoryId) ? categoryId : newId(), name, levels },
    }));
    if (JSON.stringify(next) !== JSON.stringify(now)) await replaceJotCategories(scope, next);
    return redirect("/school/jots");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const blankLevel: TypedRow = { levelId: "", definition: "" };

/** What the school writes jots about, with the levels of each category. */
export default function JotCategories({ loaderData: { categories }, actionData }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <>
      <PageTitle title="What jots are about" className="sr-only" />
      <p className="mb-1 max-w-[46rem] text-[0.9375rem] text-soft">
        Levels show change over time: work habits, for example, from “not seen yet” to “on your own”. A level
        that you rename is renamed in earlier jots too; one that you remove stays in them.
      </p>
      {categories.length === 0 ? (
        <p className="mb-2 max-w-[46rem] text-[0.9375rem]">
          No category yet. Jots can be written without one; the first category is written below.
        </p>
      ) : null}
      <KeptForm draft="jot-categories" method="post" className="grid max-w-4xl gap-6" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <h2 className="sr-only">Categories</h2>
        <NamedLists
          prefix="category"
          one="category"
          idField="categoryId"
          maxLength={60}
          there={categories.map(({ categoryId, name }) => ({ id: categoryId, name }))}
          {...{ typed, problems }}
        >
          {(categoryId) => (
            <WrittenList
              prefix={levelsOf(categoryId)}
              title="Levels, the lowest first"
              heading="h3"
              one="level"
              maxLength={80}
              blank={blankLevel}
              rows={(categories.find((one) => one.categoryId === categoryId)?.levels ?? []).map(
                ({ levelId, name, meaning }) => ({ levelId, name, definition: meaning }),
              )}
              beside={({ row }, name, set) => (
                <textarea
                  className="written beside"
                  rows={1}
                  name={name("definition")}
                  aria-label={`What ${row["name"] || "the level"} means`}
                  placeholder="what it means (optional)"
                  maxLength={300}
                  dir="auto"
                  value={row["definition"] ?? ""}
                  onChange={({ target }) => set({ definition: target.value })}
                />
              )}
              {...{ typed, problems }}
            />
          )}
        </NamedLists>
        <SaveBar busy={busy}>Save the categories</SaveBar>
      </KeptForm>
    </>
  );
}
