import { useEffect, useRef, useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Form, Link, redirect, useNavigation } from "react-router";
import { enter } from "#server/access/enter.ts";
import { isId, notFound } from "#server/access/visit.ts";
import { findEntry, saveEntry, schoolNow } from "#server/db/entries.ts";
import { findGoal, findStudent } from "#server/db/students.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { counts, percentWithCounts } from "#core/words/numbers.ts";
import { contentOf, entryFields } from "#app/recording/entry-form.server.ts";
import { Conflict, Marks } from "#app/recording/marks.tsx";
import { keepTyped } from "#app/recording/keep-typed.server.ts";
import { keepTypedOffline } from "#app/recording/keep-typed-offline.ts";
import { forgetDraft, useMarksDraft } from "#app/recording/marks-draft.ts";
import { Field, FormProblem, TextArea } from "#app/ui/field.tsx";
import { id, readForm, typedValues } from "#app/ui/form-data.ts";
import { useKeys } from "#app/ui/keys.ts";
import type { Route } from "./+types/record";

const defaultPlan = 10;
const mostMarks = 200;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "entry.record", params.studentId, async (visit) => {
    const student = await findStudent(visit, params.studentId);
    const goal = await findGoal(visit, params.studentId, params.goalId);
    // The sheet's id stands in the address: back button, reload and a restored tab come back to the same sheet.
    const entryId = new URL(request.url).searchParams.get("sheet");
    if (!isId(entryId))
      throw redirect(`/students/${params.studentId}/goals/${params.goalId}/record?sheet=${newId()}`);
    const saved = await findEntry(visit, params.studentId, entryId);
    return {
      initials: student.initials,
      number: goal.number,
      title: goal.title,
      wording: goal.wording,
      criterion: goal.setup.criterion && criterionWords(goal.setup.criterion),
      planned: goal.measure.planned ?? goal.setup.criterion?.minimumOpportunities ?? defaultPlan,
      entryId,
      saved: saved && { figure: percentWithCounts(saved.score) },
      now: saved ? `${saved.on}T${saved.time}` : await schoolNow(visit.trx, visit.person.timeZone),
    };
  });
}

export async function action({ request, context, params }: Route.ActionArgs) {
  const form = await request.formData();
  const typed = typedValues(form);
  return keepTyped(typed, () =>
    enter(request, context, "entry.record", params.studentId, async (visit) => {
      const read = readForm(form, z.object({ ...entryFields, entryId: id }));
      if (!read.ok) return data({ problems: read.problems, typed }, { status: 422 });
      const { entryId, ...fields } = read.values;
      const ids = { studentId: params.studentId, goalId: isId(params.goalId) ? params.goalId : notFound() };
      const now = await schoolNow(visit.trx, visit.person.timeZone);
      const outcome = await saveEntry(
        visit,
        (goal) => ({ ...contentOf(fields, goal.measure, now), ...ids, entryId }),
        ids,
      );
      if (outcome === "conflict") {
        const there = await findEntry(visit, params.studentId, entryId);
        const conflict = there
          ? { figure: percentWithCounts(there.score), entryId }
          : { figure: null, entryId: null };
        return data({ problems: {}, typed, conflict, freshId: newId() }, { status: 409 });
      }
      return redirect(`/students/${ids.studentId}/goals/${ids.goalId}?saved=${entryId}`);
    }),
  );
}

export async function clientAction({ serverAction, params }: Route.ClientActionArgs) {
  return keepTypedOffline(async () => {
    try {
      return await serverAction();
    } catch (thrown) {
      // On to the student's page: the entry is saved and the marks need no keeping. On to the sign-in they do.
      if (thrown instanceof Response && thrown.headers.get("Location")?.includes("saved="))
        forgetDraft(params.goalId);
      throw thrown;
    }
  });
}

export default function Record({ loaderData, actionData, params }: Route.ComponentProps) {
  const { initials, number, title, wording, criterion, planned } = loaderData;
  const busy = useNavigation().state !== "idle";
  const { draft, continued, hydrated, change, startOver } = useMarksDraft(params.goalId, {
    entryId: loaderData.entryId,
    observedAt: actionData?.typed?.["observedAt"] ?? loaderData.now,
    marks: actionData?.typed?.["marks"] ?? "",
    note: actionData?.typed?.["note"] ?? "",
  });
  const [typing, setTyping] = useState(false);
  const [noteOpen, setNoteOpen] = useState(false);
  const note = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (noteOpen) note.current?.focus();
  }, [noteOpen]);

  const { marks } = draft;
  const correct = marks.replaceAll("0", "").length;
  const left = planned - marks.length;
  const mark = (value: "0" | "1") => change(({ marks }) => ({ marks: (marks + value).slice(0, mostMarks) }));
  const undo = () => change(({ marks }) => ({ marks: marks.slice(0, -1) }));
  useKeys(typing ? {} : { "1": () => mark("1"), "0": () => mark("0"), u: undo, n: () => setNoteOpen(true) });

  const problems: Record<string, string> = actionData?.problems ?? {};
  const conflict = actionData && "conflict" in actionData ? actionData.conflict : undefined;
  const freshId = actionData && "freshId" in actionData ? actionData.freshId : undefined;
  const said = marks === "" ? "Nothing marked yet" : `${counts(correct, marks.length)} so far`;
  const goalPath = `/students/${params.studentId}/goals/${params.goalId}`;

  return (
    <main
      id="page"
      className="mx-auto flex min-h-dvh w-full max-w-xl flex-col px-[1.125rem]"
      data-ready={hydrated || undefined}
    >
      <title>Recording · Gentle Margin</title>
      <header className="-mx-[1.125rem] flex min-h-12 items-center gap-3 border-b border-base-300 px-[1.125rem]">
        <h1 className="font-serif text-lg font-semibold">Recording</h1>
        <p className="text-fine text-soft">{draft.observedAt.slice(11)}</p>
        <Link to={goalPath} className="btn btn-plain btn-sm ml-auto">
          Leave
        </Link>
      </header>
      <Form method="post" className="flex flex-1 flex-col" noValidate>
        <input type="hidden" name="entryId" value={draft.entryId} />
        <input type="hidden" name="marks" value={typing ? "" : marks} />
        <div className="pt-3">
          <p className="inline-block rounded-lg bg-neutral px-4 py-2 text-fine font-bold text-neutral-content">
            {initials}
          </p>
          <div className="mt-3 grid grid-cols-[auto_1fr] gap-x-3">
            <p className="font-serif text-[1.7rem] leading-tight font-semibold">{number}</p>
            <div className="min-w-0">
              <p className="font-serif text-[1.08rem] leading-snug">{title}</p>
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
              </details>
            </div>
          </div>
        </div>
        {continued ? (
          <p
            className="mt-2 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-3 py-1.5 text-fine"
            role="status"
          >
            Continued from what you had marked at {draft.observedAt.slice(11)}.
            <button type="button" className="link min-h-8 font-bold" onClick={startOver}>
              Start over
            </button>
          </p>
        ) : null}
        <FormProblem>{problems["form"] ?? problems["entryId"] ?? problems["marks"]}</FormProblem>
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
        {conflict ? (
          <Conflict conflict={conflict} onKeepAsNew={freshId} studentId={params.studentId} />
        ) : null}

        <div className={typing ? "hidden" : "with-scripts"}>
          <p className="mt-3 flex items-baseline gap-2">
            <span className="font-serif text-[2.7rem] leading-none font-semibold">{correct}</span>
            <span className="text-lg">of {marks.length} so far</span>
            <span className="ml-auto text-fine text-soft">
              {left > 0
                ? `${left} left of ${planned}`
                : left === 0
                  ? `all ${planned} marked`
                  : `${-left} more than the ${planned} planned`}
            </span>
          </p>
          <p className="sr-only" role="status" aria-live="polite">
            {said}
          </p>
          <div className="mt-2">
            <Marks marks={marks} planned={planned} />
          </div>
        </div>

        <div className={typing ? "mt-4 grid grid-cols-2 gap-3" : "without-scripts mt-4"}>
          <Field
            label="Correct"
            name="correct"
            inputMode="numeric"
            disabled={hydrated && !typing}
            defaultValue={actionData?.typed?.["correct"]}
            problem={problems["correct"]}
          />
          <Field
            label="Out of"
            name="attempted"
            inputMode="numeric"
            disabled={hydrated && !typing}
            defaultValue={actionData?.typed?.["attempted"]}
            problem={problems["attempted"]}
          />
        </div>

        <div className="mt-4 flex flex-wrap items-center gap-x-4 text-fine">
          <button
            type="button"
            className="with-scripts min-h-11 cursor-pointer text-soft hover:text-base-content"
            aria-expanded={noteOpen}
            onClick={() => setNoteOpen(!noteOpen)}
          >
            {noteOpen ? "– note and time" : "+ note and time"}
          </button>
          <button
            type="button"
            className="with-scripts min-h-11 cursor-pointer text-soft hover:text-base-content"
            onClick={() => setTyping(!typing)}
          >
            {typing ? "mark by tapping" : "type the counts instead"}
          </button>
        </div>
        <div
          className={
            noteOpen || problems["note"] || problems["observedAt"] ? "grid gap-3" : "without-scripts"
          }
        >
          <TextArea
            ref={note}
            label="Note"
            name="note"
            maxLength={2000}
            value={hydrated ? draft.note : undefined}
            defaultValue={hydrated ? undefined : draft.note}
            onChange={({ target }) => change(() => ({ note: target.value }))}
            problem={problems["note"]}
            hint="Stands in the report as you write it. Name no other student."
          />
          <Field
            label="Observed"
            name="observedAt"
            type="datetime-local"
            value={hydrated ? draft.observedAt : undefined}
            defaultValue={hydrated ? undefined : draft.observedAt}
            onChange={({ target }) => change(() => ({ observedAt: target.value }))}
            problem={problems["observedAt"]}
          />
        </div>

        <div className="sticky bottom-0 mt-auto bg-base-100 pt-4 pb-4">
          <div className={typing ? "hidden" : "with-scripts mb-3 grid grid-cols-2 gap-2.5"}>
            <button
              type="button"
              className="pad cursor-pointer border-base-300 bg-raised"
              onClick={() => mark("0")}
            >
              Not yet <span className="pad-key text-soft">0</span>
            </button>
            <button
              type="button"
              className="pad cursor-pointer border-data bg-data text-base-100"
              onClick={() => mark("1")}
            >
              Correct <span className="pad-key">1</span>
            </button>
          </div>
          <div className="grid grid-cols-[1fr_2fr] gap-2.5">
            <button
              type="button"
              className="btn btn-plain with-scripts h-12"
              disabled={marks === "" || typing}
              onClick={undo}
            >
              Undo
            </button>
            <button className="btn btn-primary h-12" disabled={busy || (hydrated && !typing && marks === "")}>
              {busy
                ? "Saving …"
                : hydrated && !typing && marks !== ""
                  ? `Save ${counts(correct, marks.length)}`
                  : "Save"}
            </button>
          </div>
        </div>
      </Form>
    </main>
  );
}
