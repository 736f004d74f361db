import { defineForm } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import * as z from "zod/mini";
import { redirect } from "react-router";
import { type ChoiceList, choiceLists, fieldOfList } from "#core/model/choice-lists.ts";
import type { LengthBand } from "#core/incidents/lengths.ts";
import { type IncidentPart, parts } from "#core/incidents/settings.ts";
import { authorize } from "#server/access/authorize.ts";
import { readIncidentSettings, readStarters, saveIncidentSettings } from "#server/db/incident-settings.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { type Problems, readForm, text } from "#app/ui/form-data.ts";
import { RowsEditor } from "#app/ui/rows-editor.tsx";
import { readRows, rowName, rowsOfNames } from "#app/ui/typed-rows.ts";
import { WrittenList } from "#app/ui/written-list.tsx";
import { readLines } from "./read-lines.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/incidents";

const partWords: Record<IncidentPart, string> = {
  why: "suspected function",
  "how long": "how long it lasted",
  "how strong": "how strong it was",
  resolved: "whether it was resolved, and in what time",
  "setting events": "setting events, such as slept badly",
  adults: "which adults were involved",
  peers: "whether other students were, as peer A and peer B",
  harm: "injury, restraint, seclusion",
};
/** Lists a student begins with; settings stand among the school's lists. */
const starterLists = choiceLists.filter((list) => list !== "setting");
const starterWords: Record<Exclude<ChoiceList, "setting">, string> = {
  antecedent: "Just before",
  behavior: "What was done",
  consequence: "Right after",
  "setting event": "That day",
};
const strengthName = (at: number) => `strength${at}`;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => ({
    settings: await readIncidentSettings(scope),
    starters: await readStarters(scope),
  }));
}

const minutesText = z.pipe(
  z.string().check(z.trim(), z.regex(/^\d{1,4}([.,]\d)?$/, "Minutes, as a number.")),
  z.transform((value) => Number(value.replace(",", "."))),
);
const bandRow = z.object({
  name: text(60, "Give it words."),
  from: minutesText,
  to: z.union([
    z.pipe(
      z.literal(""),
      z.transform(() => null),
    ),
    minutesText,
  ]),
});
const strength = text(80, "Say what this strength is.");
const settingsForm = z.object({
  ...Object.fromEntries([1, 2, 3, 4, 5].map((at) => [strengthName(at), strength])),
  whyAsked: z.enum(["of leads", "of everyone"]),
});
/** Bands follow each other: one that begins before the last ends, or after one without an end, would count a length twice. */
function bandProblems(bands: readonly { place: number; value: LengthBand }[]): Problems {
  const problems: Problems = {};
  bands.forEach(({ place, value: { name, from, to } }, at) => {
    const before = bands[at - 1]?.value;
    if (to !== null && to <= from) problems[rowName("band", place, "to")] = "It ends before it begins.";
    else if (before && (before.to === null || from < before.to))
      problems[rowName("band", place, "from")] =
        `It begins before “${before.name}” ends. Put the bands in order, the shortest first.`;
    else if (bands.slice(0, at).some(({ value }) => value.name.toLowerCase() === name.toLowerCase()))
      problems[rowName("band", place, "name")] = "Another band has this name.";
  });
  if (bands.length === 0) problems["form"] = "Keep at least one band of lengths, or leave “how long” out.";
  return problems;
}

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, wrong }) {
    const read = readForm(form, settingsForm);
    const bands = readRows(typed, "band", bandRow);
    const harm = readLines(typed, "harmAsked", { most: 20, long: 120 });
    const starters = starterLists.map((list) => ({
      list,
      ...readLines(typed, fieldOfList(list), { most: 60 }),
    }));
    const problems: Problems = {
      ...(read.ok ? {} : read.problems),
      ...bands.problems,
      ...(Object.keys(bands.problems).length === 0 ? bandProblems(bands.values) : {}),
      ...Object.fromEntries([harm, ...starters].flatMap((one) => Object.entries(one.problems))),
    };
    if (!read.ok || Object.keys(problems).length > 0) return wrong(problems);
    const values: Record<string, unknown> = read.values;
    await saveIncidentSettings(
      scope,
      {
        bands: bands.values.map(({ value }) => value),
        strengths: [1, 2, 3, 4, 5].map((at) => String(values[strengthName(at)])),
        off: parts.filter((part) => typed[`ask ${part}`] === undefined),
        whyAsked: read.values.whyAsked,
        harmAsked: harm.lines,
      },
      Object.fromEntries(starters.map(({ list, lines }) => [list, lines])),
    );
    return redirect("/school/incidents");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const bandFields = [
  { name: "name", label: "In words", type: "text", className: "w-44" },
  { name: "from", label: "from minute", type: "text", className: "w-28" },
  { name: "to", label: "to under", type: "text", className: "w-28" },
] as const;

/** How this school records incidents: what is asked, in which words, and what a student's lists begin with. */
export default function SchoolIncidents({ loaderData, actionData }: Route.ComponentProps) {
  const { settings, starters } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  const asks = (part: IncidentPart) =>
    typed ? typed[`ask ${part}`] !== undefined : !settings.off.includes(part);
  return (
    <>
      <PageTitle title="What an incident asks" className="sr-only" />
      <p className="mb-4 max-w-3xl text-[0.9375rem] text-soft">
        When, where, before, did and after are always asked. A change reaches every device the next time it
        has a connection; what was recorded keeps the words of its time.
      </p>
      <KeptForm draft="incidents" method="post" className="grid max-w-4xl gap-8" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <fieldset>
          <legend className="font-serif text-[1.15rem] font-semibold">Also asked</legend>
          <div className="mt-1 grid gap-x-6 sm:grid-cols-2">
            {parts.map((part) => (
              <label key={part} className="flex min-h-9 cursor-pointer items-center gap-2">
                <input type="checkbox" name={`ask ${part}`} defaultChecked={asks(part)} />
                {partWords[part]}
              </label>
            ))}
          </div>
        </fieldset>
        <fieldset>
          <legend className="font-serif text-[1.15rem] font-semibold">Why it happened is asked of</legend>
          <p className="text-fine text-soft">A guess made at the time can influence what is recorded.</p>
          {(
            [
              ["of leads", "case managers and teachers who lead a circle"],
              ["of everyone", "everyone who records"],
            ] as const
          ).map(([value, words]) => (
            <label key={value} className="flex min-h-9 cursor-pointer items-center gap-2">
              <input
                type="radio"
                name="whyAsked"
                value={value}
                defaultChecked={(typed?.["whyAsked"] ?? settings.whyAsked) === value}
              />
              {words}
            </label>
          ))}
        </fieldset>
        <div className="max-w-xl">
          <RowsEditor
            prefix="band"
            title="How long, where no clock ran"
            called="band"
            fields={bandFields}
            rows={settings.bands.map(({ name, from, to }) => ({
              name,
              from: String(from),
              to: to === null ? "" : String(to),
            }))}
            typed={typed}
            problems={problems}
            hint="The shortest first. The last may stay open: leave “to under” empty."
          />
        </div>
        <fieldset>
          <legend className="font-serif text-[1.15rem] font-semibold">How strong, in your words</legend>
          <ol className="written-list max-w-xl">
            {settings.strengths.map((words, at) => {
              const name = strengthName(at + 1);
              const called = `${at + 1}${at === 0 ? ", the mildest" : at === 4 ? ", the strongest" : ""}`;
              return (
                <li key={name} className="written-line">
                  <span aria-hidden="true" className="self-center text-center font-serif font-semibold">
                    {at + 1}
                  </span>
                  <input
                    className="written"
                    name={name}
                    aria-label={called}
                    aria-invalid={problems[name] ? true : undefined}
                    aria-describedby={problems[name] ? `${name}-says` : undefined}
                    maxLength={80}
                    dir="auto"
                    defaultValue={typed?.[name] ?? words}
                  />
                  <span aria-hidden="true" className="self-center text-fine text-soft">
                    {at === 0 ? "the mildest" : at === 4 ? "the strongest" : ""}
                  </span>
                  {problems[name] ? (
                    <p id={`${name}-says`} className="written-problem">
                      {problems[name]}
                    </p>
                  ) : null}
                </li>
              );
            })}
          </ol>
        </fieldset>
        <WrittenList
          prefix="harmAsked"
          title="Asked after an injury, a restraint or seclusion"
          one="question"
          maxLength={120}
          className="max-w-xl"
          rows={rowsOfNames(settings.harmAsked)}
          hint="The law of your state or province says what is needed."
          {...{ typed, problems }}
        />
        <section aria-labelledby="starters">
          <h2 id="starters" className="font-serif text-[1.15rem] font-semibold">
            What a student’s lists begin with
          </h2>
          <p className="text-fine text-soft">
            Lists that a student has already are not touched. Without a line, the built-in list is used. Where
            it happens is offered from the settings on the page Lists.
          </p>
          <div className="mt-3 grid gap-x-10 gap-y-6 sm:grid-cols-2">
            {starterLists.map((list) => (
              <WrittenList
                key={list}
                prefix={fieldOfList(list)}
                title={starterWords[list]}
                heading="h3"
                one="line"
                rows={rowsOfNames(starters[list])}
                {...{ typed, problems }}
              />
            ))}
          </div>
        </section>
        <SaveBar busy={busy}>Save</SaveBar>
      </KeptForm>
    </>
  );
}
