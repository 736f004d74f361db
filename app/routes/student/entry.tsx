import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useState } from "react";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { may } from "#server/access/table.ts";
import { changeEntryState, correctEntry } from "#server/db/entries.ts";
import { findEntry } from "#server/db/entry-lists.ts";
import { isReleased } from "#server/db/releases.ts";
import { listRevisions } from "#server/db/revisions.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { answerLate, isSettled, listLate, settleTally } from "#server/db/late-presses.ts";
import { pressesOfEntry } from "#server/db/tallies.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { listCircle } from "#server/db/goals.ts";
import { listItems, listLadders } from "#server/db/lists.ts";
import type { Entry } from "#core/model/entry.ts";
import { findGoal } from "#server/db/students.ts";
import { countedPurposes } from "#core/criteria/criterion.ts";
import { entryLine, recordedWords } from "#core/report/entry-line.ts";
import { recordedFacts } from "#core/report/recorded-facts.ts";
import { reportingPeriodOn } from "#core/schedule/calendar.ts";
import { periodAt } from "#core/schedule/timetable.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import { shortDate, timeOfDay } from "#core/words/dates.ts";
import { AnyDay } from "#app/recording/any-day.tsx";
import { circumstanceFields, contentOf, entryFields } from "#app/recording/entry-form.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EntryFields } from "#app/measures/entry-fields.tsx";
import type { Values } from "#app/measures/entry-form.ts";
import { valuesOf } from "#app/measures/entry-forms.ts";
import type { FieldsProps } from "#app/measures/rows.tsx";
import { purposeOptions } from "#app/recording/purpose.ts";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { optionalText } from "#app/ui/form-data.ts";
import { LateAnswers, lateWords } from "./late-presses.tsx";
import { CorrectionEnd, History, noteWithMark, Removed } from "./line-page.tsx";
import { Released } from "#app/routes/editions/released.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { WhenFields } from "#app/ui/when-fields.tsx";
import type { Route } from "./+types/entry";

const changeFields = {
  revision: z.pipe(z.string().check(z.regex(/^\d{1,6}$/)), z.transform(Number)),
  reason: optionalText(500),
};
const correctForm = z.object({ ...entryFields, ...circumstanceFields, ...changeFields });
const stateForm = z.object({ ...changeFields, intent: z.enum(["remove", "restore"]) });

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "entry.read", params.studentId, async (scope) => {
    const entry =
      (isId(params.entryId) ? await findEntry(scope, params.studentId, params.entryId) : null) ?? notFound();
    const goal = await findGoal(scope, params.studentId, entry.goalId);
    const tie = { circleRole: scope.circleRole, authorId: entry.authorId };
    const revisions = await listRevisions(scope, "entry", entry.entryId);
    return {
      entry,
      goal: { goalId: goal.goalId, number: goal.number, title: goal.title },
      line: entryLine(goal.title, entry, entry.note),
      facts: recordedFacts(entry),
      when: await whenWords(scope, entry),
      settings: await listItems(scope, "setting"),
      supports: [...new Set((await listLadders(scope)).flatMap(({ levels }) => levels))],
      observers: await recordersOf(scope, params.studentId),
      presses: await pressWords(scope, entry),
      settled: await isSettled(scope, entry.entryId),
      maySettle: may(scope.actor, "tally.settle", tie),
      late: (await listLate(scope)).find(({ entryId }) => entryId === entry.entryId) ?? null,
      purposes: countedPurposes(goal.setup.criterion),
      released: may(scope.actor, "edition.make", tie)
        ? await isReleased(scope, { studentId: params.studentId, thing: "entry", thingId: entry.entryId })
        : null,
      mayChange: may(scope.actor, "entry.correct", tie) && may(scope.actor, "entry.remove", tie),
      history: revisions.map(({ content, ...step }) => ({
        ...step,
        sentence: recordedWords({ ...content, measure: entry.measure }),
        note: noteWithMark(content.note, content.circumstances.noteForTeam),
      })),
    };
  });
}

/** "Tue, Nov 24, 10:20 (Math) · Trimester 1" */
async function whenWords(scope: PersonScope, { on, time }: Entry): Promise<string> {
  const period = periodAt(await readTimetable(scope), on, time);
  const reportingPeriod = reportingPeriodOn(await readCalendar(scope), on);
  return [`${shortDate(on)}, ${timeOfDay(time)}${period ? ` (${period})` : ""}`, reportingPeriod?.name]
    .filter(Boolean)
    .join(" · ");
}

/** Whoever may have watched: those of the circle who record. */
async function recordersOf(scope: PersonScope, studentId: string) {
  return (await listCircle(scope, studentId)).filter(({ circleRole }) => circleRole !== "read");
}

/** How an all-day tally came to its count: each press with its time and its person; null where there was none. */
async function pressWords(scope: PersonScope, { entryId }: Entry) {
  const presses = await pressesOfEntry(scope, entryId);
  if (presses === null) return null;
  return presses.map(({ pressId, by, back, at }) => ({
    pressId,
    by,
    back,
    time: localMoment(scope.timeZone, at).slice(11),
  }));
}

interface EntryParams {
  studentId: string;
  entryId: string;
}
type Sent = Submitted<EntryParams>;

const idsOf = ({ studentId, entryId }: EntryParams): EntryParams => ({
  studentId,
  entryId: isId(entryId) ? entryId : notFound(),
});

const changedMeanwhile = ({ wrong }: Sent) =>
  wrong(
    {
      form: "This entry was changed in the meantime. The current version is shown above. Check it, then decide again.",
    },
    409,
  );

const correct = intent({
  schema: correctForm,
  async run(scope, values, submitted: Sent) {
    const { revision, reason, support, interrupted, observer, ...fields } = values;
    const ids = idsOf(submitted.params);
    const known = await recordersOf(scope, ids.studentId);
    const stands = await findEntry(scope, ids.studentId, ids.entryId);
    const { noteForTeam } = fields;
    const observerId = observer === stands?.authorId ? null : observer;
    if (
      observerId !== null &&
      observerId !== stands?.observerId &&
      !known.some(({ personId }) => personId === observerId)
    )
      return submitted.wrong({ observer: "Choose a person who records for this student." });
    const now = scope.localNow;
    const calendar = await readCalendar(scope);
    const outcome = await correctEntry(scope, ids, { expectedRevision: revision, reason }, (measure) => ({
      ...contentOf(fields, submitted.typed, measure, now, { calendar, knownDay: stands?.on ?? null }),
      observerId,
      circumstances: {
        ...(support ? { support } : {}),
        ...(interrupted ? { interrupted } : {}),
        ...(fields.note !== null && noteForTeam ? { noteForTeam: true } : {}),
      },
    }));
    if (outcome === "conflict") return changedMeanwhile(submitted);
    return redirect(await goalPath(scope, ids, `saved=${ids.entryId}`));
  },
});

const changeState = intent({
  schema: stateForm,
  permission: "entry.remove",
  async run(scope, values, submitted: Sent) {
    const ids = idsOf(submitted.params);
    const removes = values.intent === "remove";
    const outcome = await changeEntryState(
      scope,
      ids,
      { expectedRevision: values.revision, reason: values.reason },
      removes ? "removed" : "kept",
    );
    if (outcome === "conflict") return changedMeanwhile(submitted);
    return redirect(await goalPath(scope, ids, `${removes ? "removed" : "saved"}=${ids.entryId}`));
  },
});

const lateForm = z.object({ back: z.optional(z.literal("today")) });

const answer = (yes: boolean) =>
  intent({
    schema: lateForm,
    permission: "tally.settle",
    async run(scope, { back }, { params }: Sent) {
      const ids = idsOf(params);
      const waits = (await listLate(scope)).find(({ entryId }) => entryId === ids.entryId);
      if (waits) await answerLate(scope, waits, yes);
      return redirect(back ? "/today" : `/students/${ids.studentId}/entries/${ids.entryId}`);
    },
  });

const settle = (settled: boolean) =>
  intent({
    schema: z.object({}),
    permission: "tally.settle",
    async run(scope, _, { params }: Sent) {
      const ids = idsOf(params);
      await settleTally(scope, ids, settled);
      return redirect(`/students/${ids.studentId}/entries/${ids.entryId}`);
    },
  });

export const action = defineIntents({
  permission: "entry.correct",
  intents: {
    ...{ correct, remove: changeState, restore: changeState },
    ...{ "late yes": answer(true), "late no": answer(false) },
    ...{ settle: settle(true), "let in": settle(false) },
  },
  otherwise: "correct",
});

async function goalPath(
  scope: PersonScope,
  ids: { studentId: string; entryId: string },
  query: string,
): Promise<string> {
  const entry = await findEntry(scope, ids.studentId, ids.entryId);
  return `/students/${ids.studentId}/goals/${entry?.goalId ?? ""}?${query}`;
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Pressed = NonNullable<Route.ComponentProps["loaderData"]["presses"]>;

function Presses({ presses }: { presses: Pressed }) {
  const standing = presses.filter(({ back }) => !back).length;
  return (
    <details className="mt-3">
      <summary className="min-h-8 cursor-pointer text-soft">
        All-day tally: {standing} {plural(standing, "press", "presses")}, each with its time and person
      </summary>
      {presses.length === 0 ? (
        <p className="py-2">Nobody pressed: it was watched and not seen.</p>
      ) : (
        <ol className="mt-2 grid max-h-72 gap-x-6 overflow-y-auto sm:grid-cols-2">
          {presses.map(({ pressId, time, by, back }) => (
            <li key={pressId} className="flex gap-3 border-b border-base-300 py-1">
              <span className={back ? "text-soft line-through" : ""}>{time}</span>
              <span className="text-soft">
                {by}
                {back ? ", taken back" : ""}
              </span>
            </li>
          ))}
        </ol>
      )}
    </details>
  );
}

export default function EntryPage({
  loaderData: {
    entry,
    goal,
    line,
    facts,
    when,
    settings,
    supports,
    observers,
    presses,
    settled,
    maySettle,
    late,
    purposes,
    mayChange,
    released,
    history,
  },
  actionData,
  params,
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  const removed = entry.state === "removed";
  const [values, setValues] = useState<Values>(() => ({ ...valuesOf(entry.measure, entry.entry), ...typed }));
  const set: FieldsProps["set"] = (name, value) =>
    setValues((before) => ({
      ...before,
      [name]: typeof value === "function" ? value(before[name] ?? "") : value,
    }));
  return (
    <section aria-label="Entry" className="max-w-2xl py-5">
      <StudentTitle title={`Entry of ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/goals/${goal.goalId}`}>
          {goal.number} {goal.title}
        </Link>{" "}
        · {when} · {entry.author}
      </p>
      <p className={`mt-2 font-serif text-xl leading-relaxed ${removed ? "text-soft line-through" : ""}`}>
        {line.sentence} {line.note}
      </p>
      {facts.length > 0 ? (
        <dl className="mt-3 grid max-h-96 grid-cols-[max-content_1fr] gap-x-6 gap-y-1 overflow-y-auto text-[0.9375rem]">
          {facts.map(({ label, value }) => (
            <div key={label} className="contents">
              <dt className="max-w-72 text-soft" dir="auto">
                {label}
              </dt>
              <dd dir="auto">{value}</dd>
            </div>
          ))}
        </dl>
      ) : null}
      {presses ? <Presses presses={presses} /> : null}
      {late ? (
        <Form
          method="post"
          className="no-print mt-3 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-4 py-2"
        >
          <p className="flex-1">
            Sent late and not counted yet: {lateWords(late)} ({listed(late.by)}).
          </p>
          <LateAnswers />
        </Form>
      ) : null}
      {settled !== null && maySettle ? (
        <Form method="post" className="no-print mt-3 flex flex-wrap items-center gap-3">
          <p className="flex-1 text-soft">
            {settled
              ? "This entry is closed. A press that a tablet sends late waits for your answer on Today."
              : "A press that a tablet sends late still changes this entry, for the number of days set by the school."}
          </p>
          <button
            className="btn btn-plain btn-sm"
            name="intent"
            value={settled ? "let in" : "settle"}
            disabled={busy}
          >
            {settled ? "Let late presses count again" : "Close the entry"}
          </button>
        </Form>
      ) : null}
      {released !== null && !removed ? (
        <Released studentId={params.studentId} thing="entry" thingId={params.entryId} isReleased={released} />
      ) : null}
      <FormProblem>{problems["form"] ?? problems["revision"]}</FormProblem>
      {removed ? (
        <Removed
          mayChange={mayChange}
          busy={busy}
          hidden={<input type="hidden" name="revision" value={entry.revision} />}
        >
          This entry is removed: it does not count and does not appear in the report.
        </Removed>
      ) : null}
      {mayChange && !removed ? (
        <KeptForm
          draft="correct"
          method="post"
          key={entry.revision}
          className="mt-6 grid gap-4 border-t border-base-300 pt-5"
          noValidate
        >
          <h2 className="text-lg font-bold">Correct it</h2>
          <input type="hidden" name="revision" value={entry.revision} />
          <EntryFields measure={entry.measure} values={values} set={set} problems={problems} />
          {problems["marks"] && (entry.entry.kind === "skills" || entry.entry.kind === "steps") ? (
            <button className="btn btn-plain w-fit" name="finished" value="no" disabled={busy}>
              Keep as not finished
            </button>
          ) : null}
          <div className="grid max-w-2xl grid-cols-[18rem_1fr_1fr] gap-3 max-sm:grid-cols-1">
            <WhenFields
              label="Observed"
              name="observedAt"
              value={typed?.["observedAt"] ?? `${entry.on}T${entry.time}`}
              problem={problems["observedAt"]}
            />
            <AnyDay problem={problems["anyDay"]} />
            <Select
              label="Setting"
              name="setting"
              defaultValue={typed?.["setting"] ?? entry.setting ?? ""}
              options={[
                ["", "Not recorded"],
                ...[...new Set([...settings, ...(entry.setting ? [entry.setting] : [])])].map(
                  (name): [string, string] => [name, name],
                ),
              ]}
              problem={problems["setting"]}
            />
            <Select
              label="Purpose"
              name="purpose"
              defaultValue={typed?.["purpose"] ?? entry.purpose}
              options={purposeOptions(purposes)}
              problem={problems["purpose"]}
            />
            <Select
              label="Observed by"
              name="observer"
              defaultValue={typed?.["observer"] ?? entry.observerId}
              options={[
                ...(observers.some(({ personId }) => personId === entry.observerId)
                  ? []
                  : [[entry.observerId, entry.observer] as [string, string]]),
                ...observers.map(({ personId, name }): [string, string] => [personId, name]),
              ]}
              problem={problems["observer"]}
            />
            {"levels" in entry.measure ? null : (
              <Select
                label="Support given"
                name="support"
                defaultValue={typed?.["support"] ?? entry.circumstances.support ?? ""}
                options={[
                  ["", "Not recorded"],
                  ...[...new Set([...supports, entry.circumstances.support ?? ""])]
                    .filter(Boolean)
                    .map((name): [string, string] => [name, name]),
                ]}
                problem={problems["support"]}
              />
            )}
            <label className="flex min-h-11 items-center gap-2 self-end">
              <input
                type="checkbox"
                className="size-5 accent-primary"
                name="interrupted"
                value="yes"
                defaultChecked={
                  typed ? typed["interrupted"] === "yes" : (entry.circumstances.interrupted ?? false)
                }
              />
              Interrupted
            </label>
          </div>
          <CorrectionEnd
            note={entry.note}
            noteForTeam={entry.circumstances.noteForTeam ?? false}
            reasonName="reason"
            what="entry"
            typed={typed}
            problems={problems}
            busy={busy}
          />
        </KeptForm>
      ) : null}
      <History steps={history} />
    </section>
  );
}
