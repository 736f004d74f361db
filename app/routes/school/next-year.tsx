import { useEffect, useRef } from "react";
import { data, Form, Link, redirect } from "react-router";
import { v7 as newId } from "uuid";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { findRollOver, rollOver, undoRollOver } from "#server/db/roll-over.ts";
import { Invalid } from "#server/errors.ts";
import { defineIntents, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { Field, fieldProps, FormProblem } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { rollOverSentences } from "./next-year-words.ts";
import { type NextYear, readNextYearChoice, readNextYear } from "./read-next-year.server.ts";
import type { Route } from "./+types/next-year";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "year.roll", null, async (scope) => ({
    ...(await readNextYear(scope)),
    today: scope.today,
    done: await findRollOver(scope),
    ids: { rollOver: newId(), year: newId() },
  }));
}

const named = ({ groups, students }: NextYear) => ({
  groups: new Map(groups.map(({ groupId, name }) => [groupId, name])),
  students: new Map(
    students.map(({ studentId, name, goals, people }) => [
      studentId,
      {
        name,
        goals: new Map(goals.map((goal) => [goal.goalId, goal.name])),
        people: new Map(people.map((one) => [one.personId, one.name])),
      },
    ]),
  ),
});

type Sent = Submitted<Record<string, never>>;

export const action = defineIntents({
  permission: "year.roll",
  intents: {
    preview: {
      async run(scope, { typed, wrong }: Sent) {
        const now = await readNextYear(scope);
        const { plan, problems } = readNextYearChoice(typed, now, scope.today);
        if (Object.keys(problems).length > 0) return wrong(problems);
        return data({ problems: {}, typed, preview: rollOverSentences(plan, named(now)) });
      },
    },
    "roll over": {
      async run(scope, { typed, wrong }: Sent) {
        const { plan, problems } = readNextYearChoice(typed, await readNextYear(scope), scope.today);
        if (Object.keys(problems).length > 0) return wrong(problems);
        await rollOver(scope, plan);
        return redirect("/school/next-year");
      },
    },
    undo: {
      async run(scope, { typed }: Sent) {
        if ((await undoRollOver(scope, typed["rollOverId"] ?? "")) === null)
          throw new Invalid({ form: "This can be undone no longer." });
        return redirect("/school/next-year");
      },
    },
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type LoaderData = Route.ComponentProps["loaderData"];
type Typed = ReturnType<typeof useForm>["typed"];

const heading = "font-serif text-[1.35rem] font-semibold";
const tick = "size-4.5 accent-primary";

function Done({ done, busy }: { done: NonNullable<LoaderData["done"]>; busy: boolean }) {
  const { steps, at, isOpen, undone } = done;
  const words: [keyof typeof steps, string, string?][] = [
    ["year", "school year"],
    ["group", "group"],
    ["leaving", "student leaves", "students leave"],
    ["grade", "grade"],
    ["goal", "goal"],
    ["part", "part in a circle", "parts in circles"],
  ];
  const parts = words.flatMap(([kind, one, several]) =>
    steps[kind] ? [`${steps[kind]} ${plural(steps[kind], one, several)}`] : [],
  );
  const when = (moment: string) => `${dateWithYear(moment.slice(0, 10))}, ${timeOfDay(moment.slice(11, 16))}`;
  return (
    <section aria-label="What was done" className="mb-6 border-l-4 border-primary px-4 py-2">
      <p>
        <b>{undone ? "Undone" : "Done"}</b> {when(undone?.at ?? at)}: {parts.join(", ")}.
        {undone && undone.remained > 0
          ? ` ${undone.remained} of these ${plural(undone.remained, "was", "were")} changed by another person since, and ${plural(undone.remained, "stays", "stay")} as ${plural(undone.remained, "it is", "they are")}.`
          : ""}
      </p>
      {isOpen ? (
        <Form method="post" className="mt-1 flex flex-wrap items-center gap-3">
          <input type="hidden" name="rollOverId" value={done.rollOverId} />
          <button className="btn btn-plain" name="intent" value="undo" disabled={busy}>
            Undo all of it
          </button>
          <span className="text-fine text-soft">For a day. What another person changed since stays.</span>
        </Form>
      ) : null}
    </section>
  );
}

function YearFields({ data: { current, next, draft, ids }, typed, problems }: SectionProps) {
  const field = fieldProps(typed, problems);
  if (!draft)
    return (
      <p>
        {next ? (
          <>
            {next.name} is in the calendar, from {dateWithYear(next.fromOn)} on.
          </>
        ) : (
          "There is no school year yet."
        )}{" "}
        <Link className="link" to="/school/calendar">
          Calendar
        </Link>
      </p>
    );
  const spans = draft.closures.length + draft.reportingPeriods.length;
  return (
    <div className="grid gap-3">
      <input type="hidden" name="yearId" value={typed?.["yearId"] ?? ids.year} />
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          name="withYear"
          className={tick}
          defaultChecked={typed ? typed["withYear"] === "on" : true}
        />
        Put the year after {current?.name} into the calendar
      </label>
      <div className="flex flex-wrap gap-3">
        <Field label="School year" {...field("yearName", draft.name)} maxLength={60} className="min-w-40" />
        <Field label="First day" {...field("fromOn", draft.fromOn)} type="date" className="w-38" />
        <Field label="Last day" {...field("toOn", draft.toOn)} type="date" className="w-38" />
      </div>
      {spans > 0 ? (
        <label className="flex min-h-9 items-baseline gap-2">
          <input
            type="checkbox"
            name="withSpans"
            className={`${tick} translate-y-1`}
            defaultChecked={typed ? typed["withSpans"] === "on" : true}
          />
          <span>
            With its {draft.reportingPeriods.length} reporting{" "}
            {plural(draft.reportingPeriods.length, "period")} and {draft.closures.length}{" "}
            {plural(draft.closures.length, "closure")}, each 52 weeks later{" "}
            <span className="text-soft">Look them through in the calendar afterwards.</span>
          </span>
        </label>
      ) : null}
    </div>
  );
}

interface SectionProps {
  data: LoaderData;
  typed: Typed;
  problems: Readonly<Record<string, string>>;
}

function Groups({ data: { groups }, typed }: SectionProps) {
  if (groups.length === 0) return <p className="text-soft">There are no groups.</p>;
  return (
    <fieldset className="min-w-0">
      <legend className="text-soft">Take the tick from those that meet no longer.</legend>
      <div className="mt-1 grid grid-cols-1 gap-x-6 sm:grid-cols-3">
        {groups.map(({ groupId, name }) => (
          <label key={groupId} className="flex min-h-9 items-center gap-2">
            <input type="hidden" name={`shownGroup.${groupId}`} value="yes" />
            <input
              type="checkbox"
              name={`group.${groupId}`}
              className={tick}
              defaultChecked={typed ? typed[`group.${groupId}`] === "on" : true}
            />
            <span dir="auto">{name}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

function StudentFields({
  student: { studentId, name, grade, nextGrade, goals, people },
  lastDay,
  typed,
  problems,
}: {
  student: LoaderData["students"][number];
  lastDay: string;
  typed: Typed;
  problems: SectionProps["problems"];
}) {
  const field = fieldProps(typed, problems);
  return (
    <fieldset className="min-w-0 border-t border-base-300 py-3">
      <legend className="float-left mb-1 w-full font-serif text-[1.1rem] font-semibold" dir="auto">
        {name}
      </legend>
      <input type="hidden" name={`shown.${studentId}`} value="yes" />
      <div className="clear-both grid grid-cols-1 gap-x-8 gap-y-2 lg:grid-cols-[16rem_minmax(0,1fr)_minmax(0,15rem)]">
        <div className="group grid content-start gap-2">
          <Field
            label={`Grade, ${grade || "none"} now`}
            {...field(`grade.${studentId}`, nextGrade)}
            maxLength={12}
            className="w-24"
          />
          <label className="flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              name={`leaves.${studentId}`}
              className={tick}
              defaultChecked={typed?.[`leaves.${studentId}`] === "on"}
            />
            Leaves the school
          </label>
          <Field
            label="Last day at the school"
            {...field(`leavesOn.${studentId}`, lastDay)}
            type="date"
            className="hidden w-38 group-has-checked:block"
          />
        </div>
        <div className="min-w-0">
          <p className="text-fine font-bold">Goals</p>
          {goals.length === 0 ? <p className="text-soft">No open goal.</p> : null}
          {goals.map(({ goalId, name: goal, newGoalId }) => (
            <div
              key={goalId}
              className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-base-300 py-1"
            >
              <input type="hidden" name={`new.${goalId}`} value={typed?.[`new.${goalId}`] ?? newGoalId} />
              <label htmlFor={`goal-${goalId}`} className="min-w-0 flex-1 basis-40" dir="auto">
                {goal}
              </label>
              <select
                id={`goal-${goalId}`}
                name={`goal.${goalId}`}
                className="select w-52"
                defaultValue={typed?.[`goal.${goalId}`] ?? ""}
              >
                <option value="">goes on</option>
                <option value="continued">goes on in a new goal</option>
                <option value="met">is met</option>
                <option value="discontinued">is discontinued</option>
              </select>
            </div>
          ))}
        </div>
        <div>
          <p className="text-fine font-bold">Stays in the circle</p>
          {people.length === 0 ? <p className="text-soft">You alone.</p> : null}
          {people.map(({ personId, name: person, position }) => (
            <label key={personId} className="flex min-h-8 items-baseline gap-2">
              <input
                type="checkbox"
                name={`part.${studentId}.${personId}`}
                className={`${tick} translate-y-0.5`}
                defaultChecked={typed ? typed[`part.${studentId}.${personId}`] === "on" : true}
              />
              <span dir="auto">
                {person} <span className="text-fine text-soft">{position}</span>
              </span>
            </label>
          ))}
        </div>
      </div>
    </fieldset>
  );
}

/** The next school year in one page: calendar, groups, students with their goals and circles; looked through, done, and undone within a day. */
export default function NextYearPage({ loaderData, actionData }: Route.ComponentProps) {
  const answered = useLasting(actionData);
  const { busy, problems, typed } = useForm(answered);
  const preview = answered && "preview" in answered ? answered.preview : null;
  const shown = useRef<HTMLElement>(null);
  // What was asked for lies below what is on the screen.
  useEffect(() => {
    if (preview) shown.current?.focus();
  }, [preview]);
  const { students, done, ids, current, today } = loaderData;
  const lastDay = current && current.toOn > today ? current.toOn : today;
  const of = { data: loaderData, typed, problems };
  return (
    <>
      <PageTitle title="The next school year" className="sr-only" />
      {done ? <Done done={done} busy={busy} /> : null}
      <p className="mb-4 max-w-[46rem] text-soft">
        What changes from one school year to the next, in one go. Nothing is done before you have looked it
        through, and all of it can be undone for a day. What you leave as it is goes on.
      </p>
      <KeptForm draft="next-year" method="post" className="grid gap-8" noValidate>
        <input type="hidden" name="rollOverId" value={typed?.["rollOverId"] ?? ids.rollOver} />
        <section aria-labelledby="year">
          <h2 id="year" className={heading}>
            Calendar
          </h2>
          <YearFields {...of} />
        </section>
        <section aria-labelledby="groups">
          <h2 id="groups" className={heading}>
            Groups
          </h2>
          <Groups {...of} />
        </section>
        <section aria-labelledby="students">
          <h2 id="students" className={heading}>
            Students, goals and circles
          </h2>
          {students.length === 0 ? (
            <p className="text-soft">
              You lead no circle. Who leads a student decides here on grade, goals and circle; circles of all
              students are under{" "}
              <Link className="link" to="/school/circles">
                Circles
              </Link>
              .
            </p>
          ) : null}
          {students.map((student) => (
            <StudentFields key={student.studentId} {...{ student, lastDay, typed, problems }} />
          ))}
        </section>
        <FormProblem>{problems["form"]}</FormProblem>
        {preview ? (
          <section
            ref={shown}
            tabIndex={-1}
            aria-labelledby="preview"
            className="border-l-4 border-primary px-4 py-2"
          >
            <h2 id="preview" className={heading}>
              What will be done
            </h2>
            {preview.length === 0 ? (
              <p>Nothing: everything goes on as it is.</p>
            ) : (
              <ul className="list-disc pl-5">
                {preview.map((sentence) => (
                  <li key={sentence} dir="auto">
                    {sentence}
                  </li>
                ))}
              </ul>
            )}
          </section>
        ) : null}
        <div className="no-print flex flex-wrap gap-3">
          <button
            className={`btn h-11 px-6 ${preview && preview.length > 0 ? "btn-plain" : "btn-primary"}`}
            name="intent"
            value="preview"
            disabled={busy}
          >
            Look it through
          </button>
          {preview && preview.length > 0 ? (
            <button className="btn btn-primary h-11 px-6" name="intent" value="roll over" disabled={busy}>
              {busy ? "Working …" : "Do all of this"}
            </button>
          ) : null}
        </div>
      </KeptForm>
    </>
  );
}
