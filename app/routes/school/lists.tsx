import { defineForm } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, redirect, redirectDocument } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { listItems, listLadders, replaceItems, retireLadder, saveLadder } from "#server/db/lists.ts";
import { ladderFields } from "#core/measures/ladder-schema.ts";
import { saveLocale } from "#server/db/locale.ts";
import { schoolLocales } from "#core/words/locale.ts";
import { readLatePressDays, saveLatePressDays } from "#server/db/late-presses.ts";
import { lines } from "#app/ui/lines.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { LocaleField } from "#app/ui/locale-field.tsx";
import { Field, FormProblem, TextArea } from "#app/ui/field.tsx";
import { id, problemsOf, readForm, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/lists";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => ({
    areas: await listItems(scope, "area"),
    settings: await listItems(scope, "setting"),
    // A starter ladder has its name for an id: kept, it becomes the school's own.
    ladders: (await listLadders(scope)).map((ladder) => ({
      ...ladder,
      own: isId(ladder.ladderId),
      ladderId: isId(ladder.ladderId) ? ladder.ladderId : newId(),
    })),
    newLadderId: newId(),
    latePressDays: await readLatePressDays(scope),
    locale: scope.actor.locale,
  }));
}

const names = z
  .array(z.string().check(z.maxLength(100, "At most 100 characters a line.")))
  .check(z.maxLength(200, "At most 200 lines."));
const lateForm = z.object({
  latePressDays: z.coerce
    .number("Write a number of days.")
    .check(z.int("Write a whole number of days."), z.gte(0, "0 at least."), z.lte(60, "At most 60 days.")),
});
const localeForm = z.object({ locale: z.enum(schoolLocales, "Choose how dates are written.") });
const ladderForm = z.object({ ladderId: id, name: text(60, "Give the ladder a name.") });

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, wrong }) {
    const intent = form.get("intent");
    if (intent === "area" || intent === "setting") {
      const read = names.safeParse(lines(typed["names"]));
      if (!read.success) return wrong({ [intent]: read.error.issues[0]?.message ?? "" });
      await replaceItems(scope, intent, read.data);
      return redirect("/school/lists");
    }
    if (intent === "late presses") {
      const days = readForm(form, lateForm);
      if (!days.ok) return wrong(days.problems);
      await saveLatePressDays(scope, days.values.latePressDays);
      return redirect("/school/lists");
    }
    if (intent === "locale") {
      const chosen = readForm(form, localeForm);
      if (!chosen.ok) return wrong(chosen.problems);
      await saveLocale(scope, chosen.values.locale);
      // The page is read anew: its language is that of the whole document.
      return redirectDocument("/school/lists");
    }
    const read = readForm(form, ladderForm);
    if (!read.ok) return wrong(read.problems);
    if (intent === "retire") {
      const today = scope.today;
      await retireLadder(scope, read.values.ladderId, today);
      return redirect("/school/lists");
    }
    const [levels, misses] = [
      ladderFields.levels.safeParse(lines(typed["levels"])),
      ladderFields.misses.safeParse(lines(typed["misses"])),
    ];
    if (!levels.success || !misses.success) {
      const found = [
        ...(levels.error?.issues ?? []).map(({ message }) => ({ field: "levels", message })),
        ...(misses.error?.issues ?? []).map(({ message }) => ({ field: "misses", message })),
      ];
      return wrong(problemsOf(found));
    }
    if (misses.data.some((miss) => levels.data.includes(miss)))
      return wrong({ misses: "A miss cannot also be a level." });
    await saveLadder(scope, { ...read.values, levels: levels.data, misses: misses.data });
    return redirect("/school/lists");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type ListedLadder = Pick<
  Route.ComponentProps["loaderData"]["ladders"][number],
  "ladderId" | "name" | "levels" | "misses"
>;

export default function Lists({ loaderData, actionData }: Route.ComponentProps) {
  const { areas, settings, ladders, newLadderId, latePressDays, locale } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  // What was typed for a ladder that is not there yet comes back in the form for a new one.
  const typedId = typed?.["ladderId"];
  const addedId = typedId && !ladders.some(({ ladderId }) => ladderId === typedId) ? typedId : newLadderId;
  const list = (intent: "area" | "setting", label: string, hint: string, there: string[]) => (
    <KeptForm draft={intent} method="post" key={`${intent} ${there.join("\n")}`} noValidate>
      <TextArea
        label={label}
        name="names"
        rows={10}
        dir="auto"
        defaultValue={typed?.["intent"] === intent ? typed["names"] : there.join("\n")}
        problem={problems[intent]}
        hint={hint}
      />
      <button className="btn btn-plain mt-2" name="intent" value={intent} disabled={busy}>
        Save the list
      </button>
    </KeptForm>
  );
  const ladder = (one: ListedLadder, kind: "own" | "starter" | "new") => {
    const mine = typed?.["ladderId"] === one.ladderId;
    const value = (name: string, there: string) => (mine ? (typed[name] ?? there) : there);
    return (
      <Form
        method="post"
        // What is being typed for a new ladder outlives reading the page again; it begins anew once the ladder is kept.
        key={
          kind === "new"
            ? `new after ${ladders.length}`
            : `${one.ladderId} ${one.name} ${one.levels.join()} ${one.misses.join()}`
        }
        className="grid gap-3 border-t border-base-300 py-4"
        noValidate
        aria-label={one.name || "New ladder"}
      >
        <input type="hidden" name="ladderId" value={one.ladderId} />
        <Field
          label={kind === "new" ? "New ladder" : "Ladder"}
          name="name"
          maxLength={60}
          className="max-w-sm"
          defaultValue={value("name", one.name.replace(" (to start from)", ""))}
          problem={mine ? problems["name"] : undefined}
        />
        <div className="grid grid-cols-2 gap-3">
          <TextArea
            label="Levels, least to most help"
            name="levels"
            rows={6}
            dir="auto"
            defaultValue={value("levels", one.levels.join("\n"))}
            problem={mine ? problems["levels"] : undefined}
          />
          <TextArea
            label="Misses"
            name="misses"
            rows={6}
            dir="auto"
            defaultValue={value("misses", one.misses.join("\n"))}
            problem={mine ? problems["misses"] : undefined}
          />
        </div>
        <p className="flex flex-wrap gap-2">
          <button className="btn btn-plain" name="intent" value="ladder" disabled={busy}>
            {kind === "own" ? "Save the ladder" : kind === "starter" ? "Keep as ours" : "Add the ladder"}
          </button>
          {kind === "own" ? (
            <button className="btn btn-plain" name="intent" value="retire" disabled={busy}>
              Retire this list
            </button>
          ) : null}
        </p>
      </Form>
    );
  };
  return (
    <>
      <PageTitle title="The school’s lists" className="sr-only" />
      <p className="mb-4 text-[0.9375rem] text-soft">Goals and entries keep the words they were made with.</p>
      <FormProblem>{problems["form"]}</FormProblem>
      <div className="grid max-w-4xl grid-cols-2 gap-6 max-sm:grid-cols-1">
        {list("area", "Areas of goals", "One per line, in your order.", areas)}
        {list("setting", "Settings", "One per line: where observations take place.", settings)}
      </div>
      <section aria-label="Dates and times" className="mt-8 max-w-4xl">
        <h2 className="font-serif text-[1.15rem] font-semibold">Dates and times</h2>
        <p className="mt-1 text-[0.9375rem] text-soft">
          On every page and in every report of the school, from each person’s next page on.
        </p>
        <Form method="post" className="mt-2 flex flex-wrap items-end gap-3" key={locale} noValidate>
          <LocaleField chosen={typed?.["locale"] ?? locale} problem={problems["locale"]} />
          <button className="btn btn-plain" name="intent" value="locale" disabled={busy}>
            Save
          </button>
        </Form>
      </section>
      <section aria-label="Late presses" className="mt-8 max-w-4xl">
        <h2 className="font-serif text-[1.15rem] font-semibold">Late presses of all-day tallies</h2>
        <Form method="post" key={latePressDays} className="mt-2 grid gap-2" noValidate>
          <p className="text-[0.9375rem] text-soft">
            A tablet without a connection sends its presses late. For this many days they change the entry of
            their day. After that, or once the lead has closed the entry, the lead decides on Today.
          </p>
          <Field
            label="Days"
            name="latePressDays"
            type="number"
            min={0}
            max={60}
            className="max-w-28"
            defaultValue={typed?.["latePressDays"] ?? latePressDays}
            problem={problems["latePressDays"]}
          />
          <button className="btn btn-plain w-fit" name="intent" value="late presses" disabled={busy}>
            Save the days
          </button>
        </Form>
      </section>
      <section aria-label="Prompt ladders" className="mt-8 max-w-4xl">
        <h2 className="font-serif text-[1.15rem] font-semibold">Prompt ladders</h2>
        <p className="mb-2 text-[0.9375rem] text-soft">
          From least to most help, the first is independent. No order is standard: agree on yours.
        </p>
        {ladders.map((one) => ladder(one, one.own ? "own" : "starter"))}
        {ladder({ ladderId: addedId, name: "", levels: [], misses: [] }, "new")}
      </section>
    </>
  );
}
