import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { v7 as newId } from "uuid";
import type { PhaseObserved, WeekCoverage } from "#core/schedule/coverage.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import { alsoAuthorize, authorize } from "#server/access/authorize.ts";
import { askForData, takeBackAsk } from "#server/db/coverage.ts";
import { defineIntents, intent } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { date, id } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { readCoverage, weekChoices } from "./read-coverage.server.ts";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/coverage";

export const handle = followsStudents;

export function loader({ request, context }: Route.LoaderArgs) {
  const asked = new URL(request.url).searchParams.get("weeks");
  const weeks = weekChoices.find((one) => String(one) === asked) ?? weekChoices[0];
  return authorize(request, context, "coverage.read", null, async (scope) => ({
    ...(await readCoverage(scope, weeks)),
    choices: weekChoices.map((one) => [String(one), `${one} weeks`] as const),
    askId: newId(),
  }));
}

const ofGoal = { studentId: id, goalId: id, on: date };

export const action = defineIntents({
  permission: "coverage.read",
  intents: {
    ask: intent({
      schema: z.object({ ...ofGoal, askId: id, personId: z.uuid("Choose a person.") }),
      async run(scope, { studentId, ...ask }, { request }) {
        await askForData(await alsoAuthorize(scope, "data.ask", studentId), ask);
        return redirect(`/coverage${new URL(request.url).search}`);
      },
    }),
    "take back": intent({
      schema: z.object(ofGoal),
      async run(scope, { studentId, ...ask }, { request }) {
        await takeBackAsk(await alsoAuthorize(scope, "data.ask", studentId), ask);
        return redirect(`/coverage${new URL(request.url).search}`);
      },
    }),
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Data = Route.ComponentProps["loaderData"];
type Goal = Data["students"][number]["goals"][number];
type Tomorrow = Data["tomorrow"][number];

/** A week in a shape and in words: the shape alone is never all there is. */
const shapes: Record<WeekCoverage["state"], string> = {
  ...{ nothing: "–", all: "●", some: "◐", none: "○", open: "◌" },
};

function Week({ week, words }: { week: WeekCoverage; words: string }) {
  const { asked, taken, state } = week;
  const count = asked > 0 ? `${taken} of ${asked}` : taken > 0 ? inDigits(taken) : "";
  return (
    <li className="min-w-20 text-center">
      <span className="sr-only">Week of {words}: </span>
      <span aria-hidden="true" className="mr-1 text-[1.05rem] leading-none">
        {shapes[state]}
      </span>
      <span className="text-fine whitespace-nowrap">
        {count || <span className="sr-only">none asked</span>}
      </span>
    </li>
  );
}

const phaseWords = ({ name, days, seconded, missing }: PhaseObserved): string =>
  [
    name,
    `${inDigits(seconded)} of ${inDigits(days)} ${plural(days, "day")}`,
    missing > 0 ? `(${inDigits(missing)} more)` : "",
  ]
    .filter(Boolean)
    .join(" ");

const counted = (all: readonly (readonly [string, number])[], empty: string): string =>
  all.map(([name, n]) => `${name || empty} ${inDigits(n)}`).join(", ");

/** One goal: its plan, its weeks, and by whom, for what and where it was measured. */
function GoalRow({ goal, studentId, mondays }: { goal: Goal; studentId: string; mondays: Data["mondays"] }) {
  const { goalId, number, title, plan, usually, weeks, by, purposes, settings, phases } = goal;
  const seconds = phases.filter(({ days }) => days > 0);
  return (
    <li className="border-t border-base-300 py-2">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
        <p className="min-w-0 flex-1 sm:min-w-72" dir="auto">
          <Link className="link" to={`/students/${studentId}/goals/${goalId}`}>
            {number} {title}
          </Link>{" "}
          <span className="text-fine text-soft">
            {[plan ?? "no schedule", usually ? `usually ${usually}` : null].filter(Boolean).join(" · ")}
          </span>
        </p>
        <ol className="flex flex-wrap gap-x-1" aria-label={`Weeks of goal ${number}`}>
          {weeks.map((week, place) => (
            <Week key={week.monday} week={week} words={mondays[place]?.words ?? ""} />
          ))}
        </ol>
      </div>
      <p className="text-fine text-soft" dir="auto">
        {[
          by.length > 0
            ? `By ${by.map(({ name, n }) => `${name} on ${inDigits(n)} ${plural(n, "day")}`).join(", ")}`
            : "No data in these weeks",
          purposes.length > 0 ? counted(purposes, "") : null,
          settings.length > 0 ? counted(settings, "no setting") : null,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {seconds.length > 0 ? (
        <p className="text-fine text-soft" dir="auto">
          Second observer: {seconds.map(phaseWords).join(", ")}
        </p>
      ) : null}
    </li>
  );
}

function TomorrowRow({
  row,
  day,
  askId,
  busy,
}: {
  row: Tomorrow;
  day: string;
  askId: string;
  busy: boolean;
}) {
  const { goalId, studentId, name, number, title, usually, measuredBy, asked, mayAsk, recorders } = row;
  const what = `${name}, ${number} ${title}`;
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-base-300 py-2">
      <span className="min-w-0 flex-1 sm:min-w-72" dir="auto">
        <b>{name}</b> {number} {title}
      </span>
      <span className="text-fine text-soft" dir="auto">
        {asked ? (
          <>
            <b className="text-base-content">{asked.person}</b> is asked, by {asked.askedBy}
          </>
        ) : mayAsk ? null : usually ? (
          `usually ${usually}`
        ) : (
          "anyone"
        )}
      </span>
      {mayAsk ? (
        <Form method="post" className="flex flex-wrap items-center gap-2" preventScrollReset>
          <input type="hidden" name="studentId" value={studentId} />
          <input type="hidden" name="goalId" value={goalId} />
          <input type="hidden" name="on" value={day} />
          {asked ? (
            <button className="btn btn-plain btn-sm" name="intent" value="take back" disabled={busy}>
              Take back
              <span className="sr-only">: {what}</span>
            </button>
          ) : (
            <>
              <input type="hidden" name="askId" value={askId} />
              <label>
                <span className="sr-only">Give to, for {what}</span>
                <select
                  name="personId"
                  className="select select-sm w-52 max-w-full"
                  defaultValue={
                    recorders.some(({ personId }) => personId === measuredBy) ? (measuredBy ?? "") : ""
                  }
                >
                  <option value="">Give to …</option>
                  {recorders.map((one) => (
                    <option key={one.personId} value={one.personId}>
                      {one.name}
                    </option>
                  ))}
                </select>
              </label>
              <button className="btn btn-plain btn-sm" name="intent" value="ask" disabled={busy}>
                Give
                <span className="sr-only">: {what}</span>
              </button>
            </>
          )}
        </Form>
      ) : null}
    </li>
  );
}

function People({ people, mondays }: Pick<Data, "people" | "mondays">) {
  return (
    <section aria-labelledby="people" className="mt-10 max-w-[64rem]">
      <h2 id="people" className="font-serif text-[1.35rem] font-semibold">
        People
      </h2>
      <p className="text-soft">
        First on how many days each recorded, each goal for itself; then, of the days due for the goals that
        are usually theirs, how many have data by anyone. In the order of names: what a person can take
        depends on the timetable.
      </p>
      <ul className="mt-2">
        {people.map(({ name, weeks, usual, seconds }) => (
          <li
            key={name}
            className="flex flex-wrap items-baseline justify-between gap-x-4 border-t border-base-300 py-2"
          >
            <span className="min-w-0 flex-1 sm:min-w-72" dir="auto">
              <b>{name}</b>{" "}
              <span className="text-fine text-soft">
                {[
                  usual > 0 ? `usually measures ${inDigits(usual)} ${plural(usual, "goal")}` : null,
                  seconds > 0 ? `second observer on ${inDigits(seconds)} ${plural(seconds, "day")}` : null,
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </span>
            </span>
            <ol className="flex flex-wrap gap-x-1" aria-label={`Weeks of ${name}`}>
              {weeks.map(({ recorded, asked, taken }, place) => (
                <li key={mondays[place]?.monday} className="min-w-20 text-center text-fine">
                  <span className="sr-only">Week of {mondays[place]?.words}: </span>
                  <b className="font-bold">{inDigits(recorded)}</b>
                  {asked > 0 ? (
                    <span className="text-soft">
                      {" "}
                      · {inDigits(taken)} of {inDigits(asked)}
                    </span>
                  ) : null}
                </li>
              ))}
            </ol>
          </li>
        ))}
      </ul>
    </section>
  );
}

const heading = "font-serif text-[1.35rem] font-semibold";

/** Who recorded what, of which goal and in which week, against what the plans ask; and who takes what on the next day of school. */
export default function Coverage({ loaderData, actionData }: Route.ComponentProps) {
  const { weeks, choices, mondays, day, students, quiet, tomorrow, people, askId } = loaderData;
  const { busy, problems } = useForm(actionData);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-b border-base-300 pb-3">
        <div>
          <PageTitle title="Coverage" />
          <p className="text-soft">What the plans ask for, and what was recorded, by whom.</p>
        </div>
        <div className="flex flex-wrap items-end gap-3">
          <ChoicesForm label="Which weeks" className="no-print">
            <Select
              label="Show"
              name="weeks"
              className="w-40"
              defaultValue={String(weeks)}
              options={choices}
            />
          </ChoicesForm>
          <button
            type="button"
            className="btn btn-plain with-scripts no-print"
            onClick={() => window.print()}
          >
            Print
          </button>
        </div>
      </header>
      {students.length === 0 ? (
        <EmptyState title="No students yet">
          <p>You see the students whose circle you belong to. A case manager adds you.</p>
        </EmptyState>
      ) : (
        <>
          <section aria-labelledby="quiet" className="mt-5 max-w-[64rem]">
            <h2 id="quiet" className={heading}>
              Goals without data
            </h2>
            {quiet.length === 0 ? (
              <p className="text-soft">Every goal with a plan has data of the last ten school days.</p>
            ) : (
              <ul className="mt-1">
                {quiet.map(({ goalId, studentId, name, number, title, usually, leads, last }) => (
                  <li key={goalId} className="border-t border-base-300 py-1.5" dir="auto">
                    <Link className="link" to={`/students/${studentId}/goals/${goalId}`}>
                      <b>{name}</b> {number} {title}
                    </Link>{" "}
                    <span className="text-fine text-soft">
                      {[
                        last === null ? "never measured" : `last ${last}`,
                        usually ? `usually ${usually}` : "no person is named",
                        leads ? `led by ${leads}` : null,
                      ]
                        .filter(Boolean)
                        .join(" · ")}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
          <section aria-labelledby="tomorrow" className="mt-8 max-w-[64rem]">
            <h2 id="tomorrow" className={heading}>
              {day ? `Due on ${day.words}` : "The next school day"}
            </h2>
            <FormProblem>{problems["form"] ?? problems["personId"]}</FormProblem>
            {day === null ? (
              <p className="text-soft">The calendar has no school day in the next four weeks.</p>
            ) : tomorrow.length === 0 ? (
              <p className="text-soft">Nothing is due on this day.</p>
            ) : (
              <ul className="mt-1">
                {tomorrow.map((row) => (
                  <TomorrowRow key={row.goalId} {...{ row, askId, busy }} day={day.on} />
                ))}
              </ul>
            )}
          </section>
          <section aria-labelledby="goals" className="mt-10 max-w-[64rem]">
            <div className="flex flex-wrap items-end justify-between gap-x-4">
              <h2 id="goals" className={heading}>
                Goals, week by week
              </h2>
              <ol className="flex flex-wrap gap-x-1" aria-hidden="true">
                {mondays.map(({ monday, words }) => (
                  <li key={monday} className="min-w-20 text-center text-fine text-soft">
                    {words}
                  </li>
                ))}
              </ol>
            </div>
            <p className="text-fine text-soft">
              Days with data, of the days the plan asks for: ● all · ◐ some · ○ none · ◌ the week goes on · –
              none asked. A second observer is recommended on at least 20% of the days of each phase.
            </p>
            {students.map(({ studentId, name, goals }) => (
              <section key={studentId} className="mt-4" aria-label={name}>
                <h3 className="font-serif text-[1.1rem] font-semibold" dir="auto">
                  {name}
                </h3>
                {goals.length === 0 ? <p className="text-soft">No goal is set up.</p> : null}
                <ul>
                  {goals.map((goal) => (
                    <GoalRow key={goal.goalId} {...{ goal, studentId, mondays }} />
                  ))}
                </ul>
              </section>
            ))}
          </section>
          <People people={people} mondays={mondays} />
        </>
      )}
    </main>
  );
}
