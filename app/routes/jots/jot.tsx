import "#app/names/load-names.ts";
import { useState } from "react";
import * as z from "zod/mini";
import { Link, redirect, useLocation } from "react-router";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { jotDetailsSchema } from "#core/model/jot.ts";
import { isWritten } from "#core/model/jot-rules.ts";
import { teamOnlyHint } from "#app/recording/team-only.ts";
import { jotLine } from "#core/report/jot-line.ts";
import { jotsEn } from "#core/words/en/jots.ts";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { readTimetable } from "#server/db/calendar.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listStoredCategories } from "#server/db/jot-categories.ts";
import { isReleased } from "#server/db/releases.ts";
import { changeJotState, correctJot, findJot, listJotRevisions } from "#server/db/jots.ts";
import { notFound } from "#server/errors.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { date, id, optionalText, typedTime } from "#app/ui/form-data.ts";
import { TimeInput } from "#app/ui/time-input.tsx";
import { sendAddedPictures, WrittenPictures } from "./written-pictures.tsx";
import { Released } from "../editions/released.tsx";
import { CorrectionEnd, History, isTold, Removed } from "../student/line-page.tsx";
import { StudentTitle } from "../student/student-title.tsx";
import type { Route } from "./+types/jot";

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "jot.read", studentId, async (scope) => {
    const jot = await findJot(scope, studentId, isId(params.jotId) ? params.jotId : notFound());
    const categories = await listStoredCategories(scope);
    // What is no longer offered stays where it was chosen.
    const offered = categories.filter(
      ({ categoryId, retired }) => !retired || categoryId === jot.category?.categoryId,
    );
    return {
      jot,
      line: jotLine(jot),
      when: [dateWithYear(jot.on), jot.at ? timeOfDay(jot.at) : jot.period].filter(Boolean).join(", "),
      today: scope.today,
      categories: offered.map((category) => ({
        categoryId: category.categoryId,
        name: category.name,
        levels: category.levels.flatMap((level) =>
          !level.retired || level.levelId === jot.level?.levelId ? { ...level } : [],
        ),
      })),
      periods: [...new Set((await readTimetable(scope)).map(({ name }) => name))],
      history: (await listJotRevisions(scope, jot.jotId)).map(({ told, ...step }) => {
        const { sentence, note } = jotLine(told);
        return {
          ...step,
          sentence: [sentence, ...told.pictures.map(({ caption }) => jotsEn.picture(caption))].join(" "),
          note,
        };
      }),
      released: may(scope.actor, "edition.make", { circleRole: scope.circleRole })
        ? await isReleased(scope, { studentId, thing: "jot", thingId: jot.jotId })
        : null,
      mayChange: may(scope.actor, "jot.correct", { circleRole: scope.circleRole, authorId: jot.authorId }),
    };
  });
}

const revision = z.coerce.number().check(z.int(), z.gte(1));
const orNone = z.pipe(
  z.optional(z.union([z.literal(""), id])),
  z.transform((value) => value || null),
);
const ticked = z.pipe(
  z.optional(z.string()),
  z.transform((value) => value === "yes"),
);
const stateForm = z.object({ revision, reason: optionalText(500) });
const correctForm = z.extend(stateForm, {
  on: date,
  at: typedTime(null),
  period: optionalText(100),
  categoryId: orNone,
  levelId: orNone,
  note: optionalText(2000),
  linkTo: optionalText(1000),
  linkWords: optionalText(120),
  pictures: z.string().check(z.maxLength(5000)),
  own: ticked,
  teamOnly: ticked,
});

interface JotParams {
  studentId: string;
  jotId: string;
}
type Sent = Submitted<JotParams>;

const idsOf = ({ studentId, jotId }: JotParams): JotParams => ({
  studentId,
  jotId: isId(jotId) ? jotId : notFound(),
});
const pageOf = ({ studentId, jotId }: JotParams) => `/students/${studentId}/jots/${jotId}`;
const changedMeanwhile =
  "This jot was changed in the meantime. The current version is shown above. Check it, then decide again.";

function readPictures(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

const correct = intent({
  schema: correctForm,
  async run(scope, values, { params, wrong }: Sent) {
    const ids = idsOf(params);
    const { on, at, period, note, categoryId, levelId, linkTo, linkWords, own, teamOnly } = values;
    if (`${on}T${at}` > scope.localNow)
      return wrong({ [on > scope.today ? "on" : "at"]: "This is still to come." });
    const details = jotDetailsSchema.safeParse({
      levelId: categoryId === null ? null : levelId,
      link: linkTo === null ? null : { url: linkTo, words: linkWords ?? "" },
      pictures: readPictures(values.pictures),
    });
    if (!details.success) {
      const [first] = details.error.issues;
      return wrong({ [first?.path[0] === "link" ? "linkTo" : "pictures"]: first?.message ?? "" });
    }
    if (!isWritten(note, details.data))
      return wrong({ note: "Write something, choose a level, or add a picture or a link." });
    const stands = await findJot(scope, ids.studentId, ids.jotId);
    const outcome = await correctJot(
      scope,
      ids,
      { expectedRevision: values.revision, reason: values.reason },
      {
        time: at === "" ? { on, period } : { local: `${on}T${at}` },
        ...{ categoryId, details: details.data, note, teamOnly, observerId: stands.observerId },
        own: own && details.data.levelId !== null,
      },
    );
    return outcome === "conflict" ? wrong({ form: changedMeanwhile }, 409) : redirect(pageOf(ids));
  },
});

const changeState = (state: "kept" | "removed") =>
  intent({
    schema: stateForm,
    async run(scope, { revision: expectedRevision, reason }, { params, wrong }: Sent) {
      const ids = idsOf(params);
      const outcome = await changeJotState(scope, ids, { expectedRevision, reason }, state);
      return outcome === "conflict" ? wrong({ form: changedMeanwhile }, 409) : redirect(pageOf(ids));
    },
  });

export const action = defineIntents({
  permission: "jot.correct",
  intents: { correct, remove: changeState("removed"), restore: changeState("kept") },
});

export async function clientAction({ request, params, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(
    () => sendAddedPictures(params, request.clone().formData(), () => serverAction()),
    request,
  );
}

/** The words, the level, the pictures and the time of a jot, to be corrected. */
function Correction({
  loaderData,
  typed,
  problems,
  busy,
}: Pick<Route.ComponentProps, "loaderData"> & {
  typed: Record<string, string> | undefined;
  problems: Record<string, string>;
  busy: boolean;
}) {
  const { jot, categories, periods, today } = loaderData;
  const [begunWith] = useState(jot.revision);
  const [categoryId, setCategoryId] = useState(typed?.["categoryId"] ?? jot.category?.categoryId ?? "");
  const levels = categories.find((one) => one.categoryId === categoryId)?.levels ?? [];
  return (
    <details className="no-print mt-6 border-t border-base-300 pt-3" open={Object.keys(problems).length > 0}>
      <summary className="min-h-11 cursor-pointer py-2 text-lg font-bold">Correct or remove it</summary>
      <KeptForm draft="correct" method="post" className="mt-2 grid max-w-3xl gap-4" noValidate>
        <input type="hidden" name="revision" value={begunWith} />
        {begunWith === jot.revision ? null : (
          <p role="status" className="rounded-lg bg-arrival px-4 py-2">
            This jot was changed while you were here. The current version is above; your text is still below.
          </p>
        )}
        <div className="grid gap-3 sm:grid-cols-3">
          <Field
            label="Day"
            name="on"
            type="date"
            max={today}
            defaultValue={typed?.["on"] ?? jot.on}
            problem={problems["on"]}
          />
          <JotTime typed={typed?.["at"] ?? jot.at ?? ""} problem={problems["at"]} />
          <Select
            label="Or only the period"
            name="period"
            defaultValue={typed?.["period"] ?? jot.period ?? ""}
            options={[["", "–"], ...periods.map((name): [string, string] => [name, name])]}
            problem={problems["period"]}
          />
        </div>
        {categories.length > 0 ? (
          <div className="grid gap-3 sm:grid-cols-2">
            <Select
              label="Category"
              name="categoryId"
              value={categoryId}
              onChange={({ target }) => setCategoryId(target.value)}
              options={[
                ["", "None"],
                ...categories.map(({ categoryId: one, name }): [string, string] => [one, name]),
              ]}
              problem={problems["categoryId"]}
            />
            {levels.length > 0 ? (
              <div>
                <Select
                  label="Level"
                  name="levelId"
                  key={categoryId}
                  defaultValue={typed?.["levelId"] ?? jot.level?.levelId ?? ""}
                  options={[
                    ["", "None"],
                    ...levels.map(({ levelId, name, meaning }): [string, string] => [
                      levelId,
                      meaning ? `${name}: ${meaning}` : name,
                    ]),
                  ]}
                  problem={problems["levelId"]}
                />
                <Tick
                  name="own"
                  isTicked={typed ? typed["own"] === "yes" : jot.own}
                  label="The student’s own rating"
                />
              </div>
            ) : null}
          </div>
        ) : null}
        <WrittenPictures
          studentId={jot.studentId}
          pictures={jot.pictures}
          typed={typed?.["pictures"]}
          problem={problems["pictures"] ?? null}
        />
        <div className="grid gap-3 sm:grid-cols-2">
          <Field
            label="Link as evidence"
            name="linkTo"
            maxLength={1000}
            defaultValue={typed?.["linkTo"] ?? jot.link?.url ?? ""}
            problem={problems["linkTo"]}
          />
          <Field
            label="What the link leads to"
            name="linkWords"
            maxLength={120}
            defaultValue={typed?.["linkWords"] ?? jot.link?.words ?? ""}
            problem={problems["linkWords"]}
          />
        </div>
        <Tick
          name="teamOnly"
          isTicked={typed ? typed["teamOnly"] === "yes" : jot.teamOnly}
          label="For the team only"
          hint={teamOnlyHint}
        />
        <CorrectionEnd
          note={jot.note}
          reasonName="reason"
          what="jot"
          typed={typed}
          problems={problems}
          busy={busy}
        />
      </KeptForm>
    </details>
  );
}

function JotTime({ typed, problem }: { typed: string; problem: string | undefined }) {
  const [time, setTime] = useState(typed);
  return (
    <label className="grid content-start gap-1 text-fine font-bold">
      Time
      <TimeInput
        className="input w-full font-normal"
        name="at"
        value={time}
        onTime={setTime}
        problem={problem}
      />
    </label>
  );
}

function Tick({
  name,
  isTicked,
  label,
  hint,
}: {
  name: string;
  isTicked: boolean;
  label: string;
  hint?: string;
}) {
  return (
    <label className="flex min-h-11 items-start gap-2 py-2">
      <input
        type="checkbox"
        name={name}
        value="yes"
        defaultChecked={isTicked}
        className="mt-0.5 size-5 shrink-0 accent-primary"
      />
      <span>
        {label}
        {hint ? <span className="block text-fine text-soft">{hint}</span> : null}
      </span>
    </label>
  );
}

/** One jot: its words, level, pictures and link, its correction and its history. */
export default function JotPage({ loaderData, actionData, params }: Route.ComponentProps) {
  const { jot, line, when, history, mayChange, released } = loaderData;
  const { key: place } = useLocation();
  const { busy, problems, typed } = useForm(actionData);
  const removed = jot.state === "removed";
  return (
    <section aria-label="Jot" className="py-5">
      <StudentTitle title={`Jot of ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/report`}>
          Report
        </Link>{" "}
        · {when} · {jot.author}
        {jot.teamOnly ? " · for the team only" : ""}
      </p>
      <p
        className={`mt-2 max-w-3xl font-serif text-xl leading-relaxed ${removed ? "text-soft line-through" : ""}`}
        dir="auto"
      >
        {line.sentence} {line.note}
      </p>
      {jot.level?.meaning ? (
        <p className="mt-1 max-w-3xl text-[0.9375rem] text-soft" dir="auto">
          {jot.level.name}: {jot.level.meaning}
        </p>
      ) : null}
      {jot.link ? (
        <p className="mt-2">
          <a className="link" href={jot.link.url} rel="noopener noreferrer" target="_blank">
            {jot.link.words || jot.link.url}
            <span className="sr-only"> (opens in a new tab)</span>
          </a>
        </p>
      ) : null}
      <div className="mt-3 flex flex-wrap gap-4" hidden={removed}>
        {jot.pictures.map(({ pictureId, caption, file }) => (
          <figure key={pictureId} className="max-w-md">
            {file ? (
              <img
                src={`/students/${params.studentId}/pictures/${pictureId}`}
                alt={caption}
                width={file.width}
                height={file.height}
                className="h-auto w-full rounded border border-base-300"
              />
            ) : (
              <p className="rounded-lg bg-arrival px-4 py-2">
                This picture is still on the device that took it. It is sent when that device has a
                connection.
              </p>
            )}
            <figcaption className="mt-1 text-[0.9375rem]" dir="auto">
              {caption}
            </figcaption>
          </figure>
        ))}
      </div>
      {released !== null && !removed && !jot.teamOnly ? (
        <Released studentId={params.studentId} thing="jot" thingId={params.jotId} isReleased={released} />
      ) : null}
      <FormProblem>{problems["form"] ?? problems["revision"]}</FormProblem>
      {removed ? (
        <Removed
          mayChange={mayChange}
          busy={busy}
          hidden={<input type="hidden" name="revision" value={jot.revision} />}
        >
          This jot is removed: it does not appear in the report.
        </Removed>
      ) : null}
      {mayChange && !removed ? (
        // Keyed by scope and answer, so that changes of others do not reset what is being typed.
        <Correction key={place} {...{ loaderData, typed, problems, busy }} />
      ) : null}
      {isTold(history) ? <History steps={history} /> : null}
    </section>
  );
}
