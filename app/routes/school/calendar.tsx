import { defineForm } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar, saveYear, yearContent } from "#server/db/calendar.ts";
import { contentTag } from "#server/db/content-tag.ts";
import { daysInSession, schoolYearOn, yearProblem } from "#core/schedule/calendar.ts";
import type { DateSpan } from "#core/dates/date-span.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { isDate } from "#core/dates/day-number.ts";
import { weekdayNames } from "#core/dates/week.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar, Seen } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { date, id, type Problems, readForm, text } from "#app/ui/form-data.ts";
import { RowsEditor } from "#app/ui/rows-editor.tsx";
import { readRows, rowName, tickedDays } from "#app/ui/typed-rows.ts";
import { YearPicture, yearPicture } from "./year-picture.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/calendar";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const calendar = await readCalendar(scope);
    const today = scope.today;
    const asked = new URL(request.url).searchParams.get("year");
    const mayEdit = may(scope.actor, "school.edit", { circleRole: null });
    const year =
      asked === "new" && mayEdit
        ? null
        : (calendar.years.find(({ yearId }) => yearId === asked) ??
          schoolYearOn(calendar, today) ??
          calendar.years.at(-1) ??
          null);
    const content = year && yearContent(calendar, year);
    return {
      mayEdit,
      years: calendar.years.map(({ yearId, name }) => ({ yearId, name })),
      schoolDays: calendar.schoolDays,
      yearId: year?.yearId ?? newId(),
      content,
      seen: content && contentTag(content),
      picture: year && yearPicture(calendar, year, today),
      inAll: year && daysInSession(calendar, year.fromOn, year.toOn).length,
    };
  });
}

const yearForm = z.object({
  yearId: id,
  name: text(60, "What is the year called?"),
  fromOn: date,
  toOn: date,
  seen: z.optional(z.string()),
});
/** A closure of one day needs no second date. */
const spanRow = z.pipe(
  z.object({
    name: text(60, "Give it a name."),
    fromOn: date,
    toOn: z.string().check(z.refine((value) => value === "" || isDate(value), "There is no such date.")),
  }),
  z.transform(({ toOn, ...row }): DateSpan => ({ ...row, toOn: toOn || row.fromOn })),
);

/** What is wrong with the spans of one list among themselves and against their year. */
function spanProblems(
  prefix: string,
  spans: readonly { place: number; value: DateSpan }[],
  year: Pick<DateSpan, "fromOn" | "toOn">,
): Problems {
  const problems: Problems = {};
  spans.forEach(({ place, value }, index) => {
    const before = spans
      .slice(0, index)
      .find((one) => one.value.fromOn <= value.toOn && value.fromOn <= one.value.toOn);
    if (value.toOn < value.fromOn) problems[rowName(prefix, place, "toOn")] = "It ends before it begins.";
    else if (value.fromOn < year.fromOn || value.toOn > year.toOn)
      problems[rowName(prefix, place, "fromOn")] = "This lies outside the school year.";
    else if (before) problems[rowName(prefix, place, "fromOn")] = `It overlaps with ${before.value.name}.`;
  });
  return problems;
}

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, wrong }) {
    const read = readForm(form, yearForm);
    const closures = readRows(typed, "closures", spanRow);
    const periods = readRows(typed, "periods", spanRow);
    const schoolDays = tickedDays(typed, "schoolDay");
    const problems: Problems = {
      ...(read.ok ? {} : read.problems),
      ...closures.problems,
      ...periods.problems,
      ...(schoolDays.length === 0 ? { schoolDays: "Tick at least one weekday." } : {}),
    };
    if (read.ok) {
      const { fromOn, toOn, yearId } = read.values;
      const ofDates = yearProblem({ fromOn, toOn });
      if (ofDates) problems["toOn"] = ofDates;
      const other = (await readCalendar(scope)).years.find(
        (year) => year.yearId !== yearId && year.fromOn <= toOn && fromOn <= year.toOn,
      );
      if (other) problems["fromOn"] = `The year overlaps with ${other.name}.`;
      if (Object.keys(problems).length === 0)
        Object.assign(
          problems,
          spanProblems("closures", closures.values, read.values),
          spanProblems("periods", periods.values, read.values),
        );
    }
    if (!read.ok || Object.keys(problems).length > 0) return wrong(problems);
    const { seen, ...year } = read.values;
    const byDate = (a: DateSpan, b: DateSpan) => (a.fromOn < b.fromOn ? -1 : 1);
    const outcome = await saveYear(
      scope,
      {
        ...year,
        schoolDays,
        closures: closures.values.map(({ value }) => value).sort(byDate),
        reportingPeriods: periods.values.map(({ value }) => value).sort(byDate),
      },
      seen || null,
    );
    if (outcome === "conflict")
      return wrong(
        {
          form: "This year was changed by someone else in the meantime. Open it again in another tab, check it, and add what is missing.",
        },
        409,
      );
    return redirect(`/school/calendar?year=${year.yearId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const spanFields = [
  { name: "name", label: "Name", type: "text", className: "flex-1 min-w-40" },
  { name: "fromOn", label: "From", type: "date", className: "w-38" },
  { name: "toOn", label: "To", type: "date", className: "w-38" },
] as const;

const asRows = (spans: readonly DateSpan[]) =>
  spans.map(({ name, fromOn, toOn }) => ({ name, fromOn, toOn: toOn === fromOn ? "" : toOn }));

function Spans({ title, spans }: { title: string; spans: readonly DateSpan[] }) {
  return (
    <section aria-label={title}>
      <h2 className="font-serif text-[1.15rem] font-semibold">{title}</h2>
      {spans.length === 0 ? <p className="text-soft">None entered.</p> : null}
      <ul>
        {spans.map(({ name, fromOn, toOn }) => (
          <li key={fromOn} className="flex gap-4 border-b border-base-300 py-1">
            <span className="flex-1" dir="auto">
              {name}
            </span>
            <span>
              {dateWithYear(fromOn)}
              {toOn === fromOn ? "" : ` – ${dateWithYear(toOn)}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

export default function Calendar({ loaderData, actionData }: Route.ComponentProps) {
  const { mayEdit, years, content, picture, inAll, schoolDays } = loaderData;
  const { busy, problems, typed, field } = useForm(actionData);
  return (
    <>
      <PageTitle title="Calendar" className="sr-only" />
      {years.length > 1 || (mayEdit && years.length > 0) ? (
        <p className="no-print mb-4 flex flex-wrap gap-x-4">
          {years.map(({ yearId, name }) => (
            <Link
              key={yearId}
              to={`?year=${yearId}`}
              className={yearId === content?.yearId ? "font-bold" : "link"}
              aria-current={yearId === content?.yearId ? "page" : undefined}
            >
              {name}
            </Link>
          ))}
          {mayEdit ? (
            <Link to="?year=new" className={content ? "link" : "font-bold"}>
              Another year
            </Link>
          ) : null}
        </p>
      ) : null}
      <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_auto]">
        {mayEdit ? (
          <KeptForm
            draft={content?.yearId ?? "new"}
            method="post"
            className="grid min-w-0 content-start gap-5"
            noValidate
            key={content?.yearId ?? "new"}
          >
            <FormProblem>{problems["form"]}</FormProblem>
            <input type="hidden" name="yearId" value={typed?.["yearId"] ?? loaderData.yearId} />
            <Seen value={loaderData.seen ?? ""} typed={typed?.["seen"]} />
            <div className="flex flex-wrap gap-3">
              <Field
                label="School year"
                {...field("name", content?.name)}
                maxLength={60}
                className="min-w-40 flex-1"
              />
              <Field label="First day" {...field("fromOn", content?.fromOn)} type="date" className="w-38" />
              <Field label="Last day" {...field("toOn", content?.toOn)} type="date" className="w-38" />
            </div>
            <fieldset>
              <legend className="text-fine font-bold">School is on</legend>
              <div className="mt-1 flex flex-wrap gap-1">
                {weekdayNames.map((weekday, index) => {
                  const name = `schoolDay${index + 1}`;
                  return (
                    <label key={weekday} className="day-tick">
                      <input
                        type="checkbox"
                        name={name}
                        defaultChecked={typed ? typed[name] === "on" : schoolDays.includes(index + 1)}
                      />
                      {weekday}
                    </label>
                  );
                })}
              </div>
              {problems["schoolDays"] ? (
                <p role="alert" className="text-fine font-bold text-error">
                  {problems["schoolDays"]}
                </p>
              ) : null}
            </fieldset>
            <RowsEditor
              prefix="periods"
              title="Reporting periods"
              called="period"
              fields={spanFields}
              rows={asRows(content?.reportingPeriods ?? [])}
              typed={typed}
              problems={problems}
            />
            <RowsEditor
              prefix="closures"
              title="Closed"
              called="closure"
              fields={spanFields}
              rows={asRows(content?.closures ?? [])}
              typed={typed}
              problems={problems}
              hint="Breaks, holidays, days without students. One day needs no second date."
            />
            <SaveBar busy={busy}>Save the year</SaveBar>
          </KeptForm>
        ) : content ? (
          <div className="grid content-start gap-6">
            <p>
              {content.name}: {dateWithYear(content.fromOn)} – {dateWithYear(content.toOn)}
            </p>
            <Spans title="Reporting periods" spans={content.reportingPeriods} />
            <Spans title="Closed" spans={content.closures} />
          </div>
        ) : (
          <EmptyState title="No school year yet">
            <p>Until a case manager or an administrator enters one, every weekday counts as a school day.</p>
          </EmptyState>
        )}
        {picture ? (
          <figure className="min-w-0">
            <YearPicture picture={picture} />
            <figcaption className="mt-2 text-fine text-soft">
              {inAll} {plural(inAll ?? 0, "day")} in session. Rates and due dates count these days and no
              others.
            </figcaption>
          </figure>
        ) : mayEdit ? (
          <p className="max-w-80 text-soft">
            Until a year is saved, every weekday ticked here counts as a day in session.
          </p>
        ) : null}
      </div>
    </>
  );
}
