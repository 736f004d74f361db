import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { redirect, redirectDocument } from "react-router";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ladderFields } from "#core/measures/ladder-schema.ts";
import { schoolLocales } from "#core/words/locale.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { readEditionYears, saveEditionYears } from "#server/db/audiences.ts";
import { listItems, listLadders, replaceItems, replaceLadders } from "#server/db/lists.ts";
import { readSchoolLocale, saveLocale } from "#server/db/locale.ts";
import { readPaper, savePaper } from "#server/db/paper.ts";
import { readTabletSettings, saveTabletSettings } from "#server/db/device-lock.ts";
import { readLatePressDays, saveLatePressDays } from "#server/db/late-presses.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { id, type Problems, readForm, text } from "#app/ui/form-data.ts";
import { LocaleField } from "#app/ui/locale-field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { NamedLists } from "#app/ui/named-lists.tsx";
import { addedSince, readRows, rowsOfNames } from "#app/ui/typed-rows.ts";
import { WrittenList } from "#app/ui/written-list.tsx";
import { changedLines, readLines } from "./read-lines.ts";
import type { Route } from "./+types/lists";

/** The names under which the fields of one ladder's lists are sent. */
const levelsOf = (ladderId: string) => `levels-${ladderId || "new"}`;
const missesOf = (ladderId: string) => `misses-${ladderId || "new"}`;

/** The ladders of the school. One to start from has no id before the ladders are saved: then it becomes the school's own. */
const readListed = async (scope: PersonScope) =>
  (await listLadders(scope)).map((ladder, at) => ({
    ...ladder,
    ladderId: isId(ladder.ladderId) ? ladder.ladderId : `start-${at}`,
  }));

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => {
    const ladders = await readListed(scope);
    return {
      areas: rowsOfNames(await listItems(scope, "area")),
      settings: rowsOfNames(await listItems(scope, "setting")),
      areStarters: ladders.every(({ ladderId }) => !isId(ladderId)),
      ladders: ladders.map(({ ladderId, name, levels, misses }) => ({
        ...{ ladderId, name },
        ...{ levels: rowsOfNames(levels), misses: rowsOfNames(misses) },
      })),
      latePressDays: await readLatePressDays(scope),
      editionYears: await readEditionYears(scope),
      locale: await readSchoolLocale(scope),
      paper: await readPaper(scope),
      tablets: await readTabletSettings(scope),
    };
  });
}

const settingsForm = z.object({
  latePressDays: z.coerce
    .number("Write a number of days.")
    .check(z.int("Write a whole number of days."), z.gte(0, "0 at least."), z.lte(60, "At most 60 days.")),
  editionYears: z.pipe(
    z._default(z.string(), "").check(
      z.trim(),
      z.regex(/^(\d{1,2}|100)?$/, "Write a whole number of years, or leave it empty."),
      z.refine((years) => years === "" || Number(years) > 0, "1 at least."),
    ),
    z.transform((years) => (years === "" ? null : Number(years))),
  ),
  locale: z.enum(schoolLocales, "Choose how dates are written."),
  // A page that was opened before the update has no such field.
  paper: z.optional(z.enum(["letter", "a4"], "Choose the paper.")),
  offlineDays: z.coerce
    .number("Write a number of days.")
    .check(z.int("Write a whole number of days."), z.gte(1, "1 at least."), z.lte(30, "At most 30 days.")),
  pinMinutes: z.pipe(
    z._default(z.string(), "").check(
      z.trim(),
      z.regex(/^\d{0,4}$/, "Write a whole number of minutes, or leave it empty."),
      z.refine(
        (minutes) => minutes === "" || (Number(minutes) >= 1 && Number(minutes) <= 240),
        "1 to 240 minutes.",
      ),
    ),
    z.transform((minutes) => (minutes === "" ? null : Number(minutes))),
  ),
});
const ladderRow = z.object({
  ladderId: z._default(z.union([id, z.literal(""), z.string().check(z.regex(/^start-\d{1,3}$/))]), ""),
  name: text(60, "Give the ladder a name."),
  retired: z._default(z.enum(["yes", ""]), ""),
});

/** The ladders as they were typed, each with its levels and misses. */
function readLadders(typed: Readonly<Record<string, string>>) {
  const { values, problems } = readRows(typed, "ladder", ladderRow);
  const ladders = values.map(({ value: { ladderId, name, retired } }) => {
    const [levels, misses] = [readLines(typed, levelsOf(ladderId)), readLines(typed, missesOf(ladderId))];
    const ladder = { ladderId, name, levels: levels.lines, misses: misses.lines };
    if (retired === "yes") return { ladder, isRetired: true };
    const wrong: Problems = { ...levels.problems, ...misses.problems };
    // Two levels of one name are one line too few to be a list of levels, and are said to be two.
    const all = readRows(typed, levelsOf(ladderId), z.object({ name: z.string() }));
    const read = ladderFields.levels.safeParse(all.values.map(({ value }) => value.name.trim()));
    if (!read.success) wrong[levelsOf(ladderId)] ??= read.error.issues[0]?.message ?? "";
    const missed = ladderFields.misses.safeParse(misses.lines);
    if (!missed.success) wrong[missesOf(ladderId)] ??= missed.error.issues[0]?.message ?? "";
    if (misses.lines.some((miss) => levels.lines.includes(miss)))
      wrong[missesOf(ladderId)] ??= "A miss cannot also be a level.";
    Object.assign(problems, wrong);
    return { ladder, isRetired: false };
  });
  return { ladders, problems };
}

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, wrong }) {
    const read = readForm(form, settingsForm);
    const [areas, settings] = [readLines(typed, "area"), readLines(typed, "setting")];
    const { ladders, problems: ofLadders } = readLadders(typed);
    const problems: Problems = {
      ...(read.ok ? {} : read.problems),
      ...areas.problems,
      ...settings.problems,
      ...ofLadders,
    };
    if (!read.ok || Object.keys(problems).length > 0) return wrong(problems);
    for (const [list, { lines }] of [["area", areas] as const, ["setting", settings] as const]) {
      const changed = changedLines(typed, list, lines, await listItems(scope, list));
      if (changed) await replaceItems(scope, list, changed);
    }
    const now = await readListed(scope);
    const sent = ladders.filter(({ isRetired }) => !isRetired).map(({ ladder }) => ladder);
    const gone = ladders.filter(({ isRetired }) => isRetired).map(({ ladder }) => ladder.ladderId);
    const known = ladders.map(({ ladder }) => ladder.ladderId);
    const next = [...sent, ...addedSince(typed, "ladder", now, known, ({ ladderId }) => ladderId)];
    if (JSON.stringify(next) !== JSON.stringify(now))
      await replaceLadders(
        scope,
        next.map((ladder) => ({ ...ladder, ladderId: isId(ladder.ladderId) ? ladder.ladderId : newId() })),
        gone.filter(isId),
      );
    const { latePressDays, editionYears, locale, paper, offlineDays, pinMinutes } = read.values;
    const tablets = await readTabletSettings(scope);
    if (offlineDays !== tablets.offlineDays || pinMinutes !== tablets.pinMinutes)
      await saveTabletSettings(scope, { offlineDays, pinMinutes });
    if (editionYears !== (await readEditionYears(scope))) await saveEditionYears(scope, editionYears);
    if (latePressDays !== (await readLatePressDays(scope))) await saveLatePressDays(scope, latePressDays);
    if (paper) await savePaper(scope, paper);
    if (locale === (await readSchoolLocale(scope))) return redirect("/school/lists");
    await saveLocale(scope, locale);
    // The page is read anew: its language is that of the whole document.
    return redirectDocument("/school/lists");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** The school's own words, in its order, and how it writes dates. One save for the page. */
export default function Lists({ loaderData, actionData }: Route.ComponentProps) {
  const { areas, settings, ladders, areStarters, latePressDays, editionYears, locale, paper, tablets } =
    loaderData;
  const { busy, problems, typed } = useForm(actionData);
  return (
    <>
      <PageTitle title="The school’s lists" className="sr-only" />
      <p className="mb-4 text-[0.9375rem] text-soft">
        Goals and entries keep the words they were made with. Enter begins the next line; drag a line by its
        handle, or move it with Alt and the arrow keys.
      </p>
      <KeptForm draft="lists" method="post" className="grid max-w-4xl gap-8" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <div className="grid grid-cols-2 gap-x-10 gap-y-6 max-sm:grid-cols-1">
          <WrittenList
            prefix="area"
            title="Areas of goals"
            one="area"
            rows={areas}
            {...{ typed, problems }}
          />
          <WrittenList
            prefix="setting"
            title="Settings"
            one="setting"
            rows={settings}
            hint="Where observations take place."
            {...{ typed, problems }}
          />
        </div>
        <section aria-label="Prompt ladders">
          <h2 className="font-serif text-[1.15rem] font-semibold">Prompt ladders</h2>
          <p className="text-[0.9375rem] text-soft">
            From least to most help, the first is independent. No order is standard: agree on yours.
            {areStarters ? " These are ladders to start from: change them, then save." : ""}
          </p>
          <NamedLists
            prefix="ladder"
            one="ladder"
            idField="ladderId"
            maxLength={60}
            there={ladders.map(({ ladderId, name }) => ({ id: ladderId, name }))}
            {...{ typed, problems }}
          >
            {(ladderId) => {
              const there = ladders.find((one) => one.ladderId === ladderId);
              return (
                <div className="grid grid-cols-2 gap-8 max-sm:grid-cols-1">
                  <WrittenList
                    prefix={levelsOf(ladderId)}
                    title="Levels, least to most help"
                    heading="h3"
                    one="level"
                    rows={there?.levels ?? []}
                    {...{ typed, problems }}
                  />
                  <WrittenList
                    prefix={missesOf(ladderId)}
                    title="Misses"
                    heading="h3"
                    one="miss"
                    rows={there?.misses ?? []}
                    {...{ typed, problems }}
                  />
                </div>
              );
            }}
          </NamedLists>
        </section>
        <section aria-label="Dates and times">
          <h2 className="font-serif text-[1.15rem] font-semibold">Dates and times</h2>
          <p className="mt-1 mb-2 text-[0.9375rem] text-soft">
            On every page and in every report of the school, from each person’s next page on.
          </p>
          <LocaleField chosen={typed?.["locale"] ?? locale} problem={problems["locale"]} />
        </section>
        <section aria-label="Paper">
          <h2 className="font-serif text-[1.15rem] font-semibold">Paper</h2>
          <p className="mt-1 mb-2 text-[0.9375rem] text-soft">
            PDF and Word files of reports are made for it.
          </p>
          <Select
            label="Size"
            name="paper"
            className="max-w-60"
            options={[
              ["letter", "Letter (8½ × 11 in)"],
              ["a4", "A4 (210 × 297 mm)"],
            ]}
            defaultValue={typed?.["paper"] ?? paper}
            problem={problems["paper"]}
          />
        </section>
        <section aria-label="Late presses">
          <h2 className="font-serif text-[1.15rem] font-semibold">Late presses of all-day tallies</h2>
          <p className="mt-1 mb-2 max-w-[44rem] text-[0.9375rem] text-soft">
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
        </section>
        <section aria-label="Shared tablets">
          <h2 className="font-serif text-[1.15rem] font-semibold">Shared tablets</h2>
          <p className="mt-1 mb-2 max-w-[44rem] text-[0.9375rem] text-soft">
            A tablet records without a connection for this many days after the last contact with its person
            signed in. Then nothing on it can be read until they sign in. After the minutes without use its
            recording screens ask for the PIN that each person sets under My devices. Leave the minutes empty
            to ask for none.
          </p>
          <div className="flex flex-wrap gap-4">
            <Field
              label="Days without sign-in"
              name="offlineDays"
              type="number"
              min={1}
              max={30}
              className="w-44"
              defaultValue={typed?.["offlineDays"] ?? tablets.offlineDays}
              problem={problems["offlineDays"]}
            />
            <Field
              label="Minutes until the PIN"
              name="pinMinutes"
              inputMode="numeric"
              className="w-44"
              defaultValue={typed?.["pinMinutes"] ?? tablets.pinMinutes ?? ""}
              problem={problems["pinMinutes"]}
            />
          </div>
        </section>
        <section aria-label="Editions">
          <h2 className="font-serif text-[1.15rem] font-semibold">Editions of reports</h2>
          <p className="mt-1 mb-2 max-w-[44rem] text-[0.9375rem] text-soft">
            Your records policy says how long frozen reports are stored. Leave it empty to store them without
            end.
          </p>
          <Field
            label="Years"
            name="editionYears"
            inputMode="numeric"
            className="max-w-28"
            defaultValue={typed?.["editionYears"] ?? editionYears ?? ""}
            problem={problems["editionYears"]}
          />
        </section>
        <SaveBar busy={busy}>Save the lists</SaveBar>
      </KeptForm>
    </>
  );
}
