import { ForTeam } from "#app/recording/for-team.tsx";
import "#app/names/load-names.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { useEffect, useRef, useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { findEntry } from "#server/db/entry-lists.ts";
import { saveSecondObservation } from "#server/db/second-observations.ts";
import { saveEntry } from "#server/db/entries.ts";
import { listItems } from "#server/db/lists.ts";
import { findGoal, findStudent } from "#server/db/students.ts";
import { countedPurposes } from "#core/criteria/criterion.ts";
import { noSchoolWords } from "#core/schedule/calendar.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import type { Measure } from "#core/measures/measure.ts";
import { recordedWords } from "#core/report/entry-line.ts";
import { counts } from "#core/words/numbers.ts";
import { savingEntry, useEntryDraft } from "#app/recording/entry-draft.ts";
import { AnyDay } from "#app/recording/any-day.tsx";
import { contentOf, entryFields } from "#app/recording/entry-form.server.ts";
import { EntryFields } from "#app/measures/entry-fields.tsx";
import { LivePanel } from "#app/measures/live-panel.tsx";
import { hasMarks, isCounted, startValues } from "#app/measures/entry-forms.ts";
import { isInRows } from "#app/measures/rows-of.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { ConflictNotice, type EntryConflict } from "#app/recording/conflict.tsx";
import { usualPurpose } from "#core/criteria/purposes.ts";
import { purposeOptions } from "#app/recording/purpose.ts";
import { TrialPad, TrialTally } from "#app/measures/trials/trial-pad.tsx";
import { FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { id } from "#app/ui/form-data.ts";
import { useKeys } from "#app/ui/keys.ts";
import { forgetDraftsOfOthers } from "#app/kit/tab-draft.ts";
import { WhenFields } from "#app/ui/when-fields.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/record";

const defaultPlan = 10;
const mostMarks = 200;
const hasParts = (measure: Measure) => isInRows(measure) && measure.kind !== "outcomes";
const added = (marks: string, mark: "0" | "1") => (marks + mark).slice(0, mostMarks);

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "entry.record", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goal = await findGoal(scope, params.studentId, params.goalId);
    // The sheet's id stands in the address: back button, reload and a restored tab come back to the same sheet.
    const entryId = new URL(request.url).searchParams.get("sheet");
    if (!isId(entryId))
      throw redirect(`/students/${params.studentId}/goals/${params.goalId}/record?sheet=${newId()}`);
    const saved = await findEntry(scope, params.studentId, entryId);
    return {
      personId: scope.actor.personId,
      screenName: student.screenName,
      number: goal.number,
      title: goal.title,
      wording: goal.wording,
      strategy: goal.strategy,
      criterion: goal.setup.criterion && criterionWords(goal.setup.criterion, goal.measure),
      measure: goal.measure,
      planned: goal.setup.criterion?.minimumOpportunities ?? null,
      settings: await listItems(scope, "setting"),
      purposes: countedPurposes(goal.setup.criterion),
      entryId,
      saved: saved && { figure: recordedWords(saved) },
      noSchool: noSchoolWords(await readCalendar(scope), scope.today),
      now: saved ? `${saved.on}T${saved.time}` : scope.localNow,
    };
  });
}

export const action = defineAction({
  permission: "entry.record",
  schema: z.object({ ...entryFields, entryId: id, own: z.optional(z.literal("yes")) }),
  async run(scope, values, { params, typed, wrong }: Submitted<{ studentId: string; goalId: string }>) {
    const { entryId, own, ...fields } = values;
    const ids = { studentId: params.studentId, goalId: isId(params.goalId) ? params.goalId : notFound() };
    const now = scope.localNow;
    // Read only where it matters: the page knows whether there is school today.
    const asksDay = fields.askDay || fields.observedAt.slice(0, 10) !== scope.today;
    const calendar = asksDay ? await readCalendar(scope) : null;
    if (own === "yes") {
      const { goalId, studentId } = ids;
      const { measureVersion } = await findGoal(scope, studentId, goalId);
      const made = await saveSecondObservation(scope, { goalId, studentId, measureVersion }, (measure) => ({
        ...{ ...contentOf(fields, typed, measure, now, { calendar }), ...ids, entryId },
        ...{ withSittingId: null, own: true },
      }));
      return made === "conflict"
        ? wrong({ form: "This sheet is saved already with other levels. Begin a new one." }, 409)
        : redirect(`/students/${studentId}/beside/${entryId}`);
    }
    const outcome = await saveEntry(
      scope,
      (goal) => ({ ...contentOf(fields, typed, goal.measure, now, { calendar }), ...ids, entryId }),
      ids,
    );
    if (outcome === "conflict") {
      const there = await findEntry(scope, params.studentId, entryId);
      const saved = there ? { figure: recordedWords(there), entryId } : { figure: null, entryId: null };
      const conflict: EntryConflict = { ...saved, freshId: newId() };
      return data({ problems: {}, typed, conflict }, { status: 409 });
    }
    return redirect(`/students/${ids.studentId}/goals/${ids.goalId}?saved=${entryId}`);
  },
});

export async function clientAction({ serverAction, params }: Route.ClientActionArgs) {
  return keepTypedOffline(() => savingEntry(params.goalId, () => serverAction()));
}

export default function Record({ loaderData, actionData, params }: Route.ComponentProps) {
  const { screenName, number, title, wording, criterion, measure, settings, now } = loaderData;
  const { busy, problems, typed, conflict } = useForm<EntryConflict>(actionData);
  const {
    draft,
    continued,
    awake: hydrated,
    change,
    set,
    startOver,
  } = useEntryDraft(params.goalId, {
    entryId: loaderData.entryId,
    values: {
      ...startValues(measure, now),
      purpose: usualPurpose(loaderData.purposes),
      ...typed,
    },
  });
  useEffect(() => forgetDraftsOfOthers(loaderData.personId), [loaderData.personId]);
  const { values } = draft;
  const [typing, setTyping] = useState(false);
  const [noteOpen, setNoteOpen] = useState(false);
  const note = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (noteOpen) note.current?.focus();
  }, [noteOpen]);

  const padded = measure.kind === "trials" && !typing;
  const marks = values["marks"] ?? "";
  const planned =
    (measure.kind === "trials" ? measure.planned : undefined) ?? loaderData.planned ?? defaultPlan;
  useKeys({
    ...(padded
      ? {
          "1": () => set("marks", (before) => added(before, "1")),
          "0": () => set("marks", (before) => added(before, "0")),
          u: () => set("marks", (before) => before.slice(0, -1)),
        }
      : {}),
    n: () => setNoteOpen(true),
  });

  const goalPath = `/students/${params.studentId}/goals/${params.goalId}`;
  const mayBeUnfinished = (measure.kind === "skills" || measure.kind === "steps") && problems["marks"];
  const correct = marks.replaceAll("0", "").length;

  return (
    <main
      id="page"
      className={`mx-auto flex min-h-dvh w-full flex-col px-[1.125rem] ${hasParts(measure) ? "max-w-4xl" : "max-w-xl"}`}
      data-ready={hydrated || undefined}
    >
      <header className="-mx-[1.125rem] flex min-h-12 flex-wrap items-center gap-x-3 gap-y-1 border-b border-base-300 px-[1.125rem]">
        <PageTitle title="Recording" className="font-serif text-lg font-semibold" />
        <p className="text-fine text-soft max-[24rem]:hidden">
          {timeOfDay((values["observedAt"] ?? "").slice(11))}
        </p>
        <Form method="post" action={`/students/${params.studentId}/absent-today`} className="ml-auto">
          <button className="btn btn-plain btn-sm" name="absent" value="yes">
            Absent today
          </button>
        </Form>
        <Link to={goalPath} className="btn btn-plain btn-sm">
          Back to goal
        </Link>
      </header>
      <Form method="post" className="flex flex-1 flex-col" noValidate>
        <input type="hidden" name="entryId" value={draft.entryId} />
        <input type="hidden" name="marks" value={padded ? marks : ""} />
        <div className="pt-3">
          <p
            className="inline-block rounded-lg bg-neutral px-4 py-2 text-fine font-bold text-neutral-content"
            dir="auto"
          >
            {screenName}
          </p>
          <div className="mt-3 grid grid-cols-[auto_1fr] gap-x-3">
            <p className="font-serif text-[1.7rem] leading-tight font-semibold">{number}</p>
            <div className="min-w-0">
              <p className="font-serif text-[1.08rem] leading-snug break-words" dir="auto">
                {title}
              </p>
              <details className="text-fine text-soft">
                <summary className="min-h-8 cursor-pointer py-1">
                  {criterion ? `criterion ${criterion} · ` : ""}whole wording
                </summary>
                <p
                  className="pb-2 font-serif text-base leading-relaxed break-words text-base-content"
                  dir="auto"
                >
                  {wording}
                </p>
                {loaderData.strategy ? (
                  <p className="pb-2 text-[0.9375rem] leading-snug break-words text-base-content" dir="auto">
                    <b>How it is taught:</b> {loaderData.strategy}
                  </p>
                ) : null}
              </details>
            </div>
          </div>
        </div>
        {continued ? (
          <p
            className="mt-2 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-3 py-1.5 text-fine"
            role="status"
          >
            Continued from what you had marked at {timeOfDay((values["observedAt"] ?? "").slice(11))}.
            <button type="button" className="link min-h-8 font-bold" onClick={() => startOver()}>
              Start over
            </button>
          </p>
        ) : null}
        <FormProblem>{problems["form"] ?? problems["entryId"]}</FormProblem>
        {loaderData.saved && !conflict ? (
          <p
            className="mt-2 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-3 py-1.5 text-fine"
            role="status"
          >
            This sheet is saved: {loaderData.saved.figure}.
            <Link className="link font-bold" reloadDocument to={`${goalPath}/record`}>
              A new sheet
            </Link>
          </p>
        ) : null}
        {conflict ? <ConflictNotice conflict={conflict} studentId={params.studentId} /> : null}

        {measure.kind === "trials" ? (
          <div className={padded ? "with-scripts mt-3" : "hidden"}>
            <TrialTally marks={marks} planned={planned} />
          </div>
        ) : null}
        <div className={padded ? "without-scripts mt-4" : "mt-4"}>
          {hydrated && measure.kind !== "trials" && isCounted(measure) ? (
            <>
              <div className="mb-4">
                <LivePanel
                  key={draft.entryId}
                  measure={measure}
                  planned={
                    "planned" in measure ? (measure.planned ?? loaderData.planned) : loaderData.planned
                  }
                  values={values}
                  take={(counted) => change(() => counted)}
                  byKeys
                />
              </div>
              <p className="mb-2 text-fine text-soft">
                Your taps are added up here. You can also type the numbers.
              </p>
            </>
          ) : null}
          {measure.kind === "trials" && padded && hydrated ? null : (
            <EntryFields measure={measure} values={values} set={set} problems={problems} />
          )}
        </div>
        {measure.kind === "rubric" ? (
          <label className="mt-2 flex min-h-11 items-center gap-2">
            <input type="checkbox" name="own" value="yes" className="size-5 shrink-0 accent-primary" />
            <span>
              The student’s own rating
              <span className="block text-fine text-soft">
                Shown beside the adults’ ratings; it does not count for the goal.
              </span>
            </span>
          </label>
        ) : null}
        {mayBeUnfinished ? (
          <p className="mt-3 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-3 py-2 text-[0.9375rem]">
            Broken off? You can save the marks as they are, unscored, and complete them later.
            <button className="btn btn-plain btn-sm" name="finished" value="no" disabled={busy}>
              Keep as not finished
            </button>
          </p>
        ) : null}

        <div className="mt-4 flex flex-wrap items-center gap-x-4 text-fine">
          <button
            type="button"
            className="with-scripts min-h-11 cursor-pointer text-soft hover:text-base-content"
            aria-expanded={noteOpen}
            onClick={() => setNoteOpen(!noteOpen)}
          >
            {noteOpen ? "– note, time, setting, purpose" : "+ note, time, setting, purpose"}
          </button>
          {measure.kind === "trials" ? (
            <button
              type="button"
              className="with-scripts min-h-11 cursor-pointer text-soft hover:text-base-content"
              onClick={() => setTyping(!typing)}
            >
              {typing ? "mark by tapping" : "type the counts instead"}
            </button>
          ) : null}
        </div>
        <div
          className={
            noteOpen || problems["note"] || problems["observedAt"] || problems["anyDay"]
              ? "grid gap-3"
              : "without-scripts"
          }
        >
          <TextArea
            ref={note}
            label="Note"
            name="note"
            maxLength={2000}
            value={values["note"] ?? ""}
            onChange={({ target }) => set("note", target.value)}
            problem={problems["note"]}
            hint="Appears in the report as written."
          />
          <names-under about={params.studentId} />
          <ForTeam
            name="noteForTeam"
            value="yes"
            checked={values["noteForTeam"] === "yes"}
            onChange={({ target }) => set("noteForTeam", target.checked ? "yes" : "")}
          />
          <div className="grid grid-cols-[18rem_1fr_1fr] gap-3 max-sm:grid-cols-1">
            <WhenFields
              label="Observed"
              name="observedAt"
              value={values["observedAt"] ?? ""}
              onMoment={(moment) => set("observedAt", moment)}
              problem={problems["observedAt"]}
            />
            <Select
              label="Setting"
              name="setting"
              value={values["setting"] ?? ""}
              onChange={({ target }) => set("setting", target.value)}
              options={[["", "Not recorded"], ...settings.map((name): [string, string] => [name, name])]}
              problem={problems["setting"]}
            />
            <Select
              label="Purpose"
              name="purpose"
              value={values["purpose"] ?? "probe"}
              onChange={({ target }) => set("purpose", target.value)}
              options={purposeOptions(loaderData.purposes)}
              problem={problems["purpose"]}
            />
          </div>
        </div>

        {loaderData.noSchool ? <input type="hidden" name="askDay" value="yes" /> : null}
        <AnyDay problem={problems["anyDay"] ?? loaderData.noSchool ?? undefined} />
        <div className="sticky bottom-0 mt-auto bg-base-100 pt-4 pb-4">
          {padded ? (
            <div className="mb-3">
              <TrialPad mark={(value) => set("marks", (before) => added(before, value))} />
            </div>
          ) : null}
          <div className={padded ? "grid grid-cols-[1fr_2fr] gap-2.5" : "grid"}>
            {padded ? (
              <button
                type="button"
                className="btn btn-plain with-scripts h-12"
                disabled={marks === ""}
                onClick={() => set("marks", (before) => before.slice(0, -1))}
              >
                Undo
              </button>
            ) : null}
            <button className="btn btn-primary h-12" disabled={busy || (hydrated && !hasMarks(values))}>
              {busy ? "Saving …" : padded && marks !== "" ? `Save ${counts(correct, marks.length)}` : "Save"}
            </button>
          </div>
        </div>
      </Form>
    </main>
  );
}
