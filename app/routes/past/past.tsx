import { defineAction } from "#app/kit/define-action.server.ts";
import { useRef, useState } from "react";
import { v7 as newId } from "uuid";
import { Form, Link, redirect, useSearchParams } from "react-router";
import { sheetCodes, typedLineHint } from "#core/measures/sheet-lines.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { alsoAuthorizeEach, authorize } from "#server/access/authorize.ts";
import { noSchoolWords } from "#core/schedule/calendar.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { saveEntries } from "#server/db/entries.ts";
import { AnyDay } from "#app/recording/any-day.tsx";
import { findObserver, listColleagues } from "#server/db/handovers.ts";
import { shortName } from "#core/model/student-names.ts";
import { listItems } from "#server/db/lists.ts";
import { noteReads } from "#server/db/reads.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { purposeOptions } from "#app/recording/purpose.ts";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { Continued } from "#app/kit/continued.tsx";
import { forgettingDraft } from "#app/kit/tab-draft.ts";
import { readTexts, useDraft } from "#app/kit/use-draft.ts";
import { useForm } from "#app/kit/use-form.ts";
import { rowName, rowsIn, type TypedRow } from "#app/ui/typed-rows.ts";
import { noon } from "./noon.ts";
import { PastRow } from "./past-row.tsx";
import { readPast, wholeFields } from "./read-past.server.ts";
import { listRecordable } from "./recordable.server.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/past";

const startRows = 8;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, async (scope) => {
    const { searchParams } = new URL(request.url);
    const today = scope.today;
    const students = await listRecordable(scope, searchParams);
    await noteReads(
      scope,
      "recording",
      students.map(({ studentId }) => studentId),
    );
    const goals = students.flatMap((student) => student.goals);
    const saved = Number(searchParams.get("saved"));
    return {
      today,
      students,
      settings: await listItems(scope, "setting"),
      me: {
        personId: scope.actor.personId,
        name: shortName(scope.actor.givenName, scope.actor.familyName),
      },
      colleagues: await listColleagues(scope),
      saved: Number.isInteger(saved) && saved > 0 ? saved : null,
      rows: Array.from({ length: startRows }, (_, index): TypedRow => ({
        entryId: newId(),
        on: today,
        at: "",
        // One goal: it is meant on every row. Several: a row for each, in their order.
        goal: goals[goals.length === 1 ? 0 : index]?.goalId ?? "",
      })),
    };
  });
}

export const action = defineAction({
  permission: "sitting.open",
  schema: wholeFields,
  async run(scope, values, { request, typed, wrong }) {
    const { searchParams } = new URL(request.url);
    const { observer, anyDay, ...common } = values;
    const observerId =
      observer === null || observer === scope.actor.personId
        ? null
        : (await findObserver(scope, observer)).personId;
    const today = scope.today;
    const { entries, problems } = readPast(typed, await listRecordable(scope, searchParams), today);
    if (Object.keys(problems).length > 0) return wrong(problems);
    if (entries.length === 0) return wrong({ form: "Nothing is written yet: fill at least one row." });
    const calendar = await readCalendar(scope);
    const closed = [...new Set(entries.map(({ observedLocal }) => observedLocal.slice(0, 10)))].flatMap(
      (day) => noSchoolWords(calendar, day) ?? [],
    );
    if (closed.length > 0 && !anyDay) return wrong({ anyDay: closed.join(" ") });
    const students = [...new Set(entries.map(({ studentId }) => studentId))];
    const outcomes = await saveEntries(
      await alsoAuthorizeEach(scope, "entry.record", students),
      entries.map((entry) => ({ ...entry, ...common, observerId })),
    );
    const conflict = entries.find(({ entryId }) => outcomes.get(entryId) === "conflict");
    if (conflict)
      return wrong(
        {
          [rowName("row", conflict.place, "line")]:
            "An entry with this row’s number is there already and says something else. Write it in a new row.",
        },
        409,
      );
    searchParams.set("saved", String(entries.length));
    return redirect(`/past?${searchParams.toString()}`);
  },
});

function draftName(search: string): string {
  const asked = new URLSearchParams(search);
  asked.delete("saved");
  return `past ${asked.toString()}`;
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() =>
    forgettingDraft(draftName(new URL(request.url).search), () => serverAction()),
  );
}

const isWritten = (rows: readonly TypedRow[]) =>
  rows.some((row) => row["line"]?.trim() || row["note"]?.trim());

const draftKind = {
  reads(left: unknown): readonly TypedRow[] | null {
    const rows = Array.isArray(left) ? left.map(readTexts) : [null];
    return rows.every((row) => row !== null) ? rows : null;
  },
  isTyped: isWritten,
};

/** What has been written down elsewhere, many observations in one go, in the codes of the data sheet that lies beside. */
export default function Past({ loaderData, actionData }: Route.ComponentProps) {
  const { students, today, settings, saved, me, colleagues } = loaderData;
  const { busy, typed, problems } = useForm(actionData);
  const [search] = useSearchParams();
  const {
    content: rows,
    setContent: setRows,
    continued,
    startOver,
  } = useDraft<readonly TypedRow[]>(draftName(search.toString()), loaderData.rows, draftKind);
  const [shownFor, setShownFor] = useState({ typed, rows: loaderData.rows });
  if (shownFor.typed !== typed || shownFor.rows !== loaderData.rows) {
    const cameBack = shownFor.typed !== typed && typed !== undefined;
    // Makes a fresh table after a save and keeps what was typed after an error. Reading again changes nothing typed.
    if (cameBack) setRows(rowsIn(typed, "row").map(({ row }) => row));
    else if (saved !== null && typed === undefined) setRows(loaderData.rows);
    setShownFor({ typed, rows: loaderData.rows });
  }
  const [at, setAt] = useState(0);
  const table = useRef<HTMLTableElement>(null);
  const goals = students.flatMap((student) => student.goals);
  const goalOf = (row: TypedRow | undefined) => goals.find(({ goalId }) => goalId === row?.["goal"]);
  const current = goalOf(rows[at]);
  const set = (index: number, field: string, value: string) => {
    const before = rows[index]?.[field];
    setRows(
      rows.map((row, place) => {
        // A changed date fills down: rows below that had the same one and are not written yet follow.
        const follows = field === "on" && place > index && row["on"] === before && !row["line"]?.trim();
        return place === index || follows ? { ...row, [field]: value } : row;
      }),
    );
  };
  /** Puts a row for each of these goals below, where there is none that is still empty. */
  const addColumn = (column: readonly { goalId: string }[]) => {
    const last = rows[at] ?? rows.at(-1);
    const there = new Set(rows.flatMap((row) => row["goal"] ?? []));
    const fresh = column
      .filter(({ goalId }) => !there.has(goalId))
      .map(({ goalId }) => ({
        ...{ entryId: newId(), goal: goalId },
        ...{ on: last?.["on"] ?? today, at: last?.["at"] ?? "" },
      }));
    // A row without a goal and without words was only waiting for one.
    setRows([...rows.filter((row) => row["goal"] || row["line"]?.trim()), ...fresh]);
  };
  const student =
    students.find((one) => one.goals.some(({ goalId }) => goalId === rows[at]?.["goal"])) ??
    (students.length === 1 ? students[0] : undefined);
  const alike = goals.filter(({ title }) => title === current?.title);
  const addRow = () => {
    const last = rows.at(-1);
    setRows([
      ...rows,
      { entryId: newId(), on: last?.["on"] ?? today, at: last?.["at"] ?? "", goal: last?.["goal"] ?? "" },
    ]);
  };
  const focusLine = (index: number) =>
    requestAnimationFrame(() =>
      table.current?.querySelector<HTMLInputElement>(`[name="${rowName("row", index, "line")}"]`)?.focus(),
    );
  if (goals.length === 0)
    return (
      <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
        <PageTitle title="Past observations" />
        <p className="mt-3 max-w-xl">
          There is no goal here for which you record.{" "}
          <Link to="/past" className="link">
            All my students
          </Link>
        </p>
      </main>
    );
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2 border-b border-base-300 pb-3">
        <PageTitle
          title="Past observations"
          of={students.length === 1 ? students[0]?.screenName : undefined}
        />
        {students.length === 1 ? (
          <p className="font-serif text-lg font-semibold" dir="auto">
            {students[0]?.name}
          </p>
        ) : null}
        <p className="text-fine text-soft">
          One row each, as on the data sheet. The date is today’s unless you change it; left empty, the time
          is {timeOfDay(noon)}.
        </p>
        <Link to={`/sheets?${search.toString()}`} className="btn btn-plain ml-auto">
          Blank data sheets
        </Link>
      </header>
      {saved ? (
        <p role="status" className="mb-3 rounded-lg bg-arrival px-4 py-2">
          {saved} {plural(saved, "entry", "entries")} saved and added to the reports.
        </p>
      ) : null}
      {continued && isWritten(rows) ? <Continued startOver={() => startOver(loaderData.rows)} /> : null}
      <FormProblem>{problems["form"]}</FormProblem>
      <Form
        method="post"
        noValidate
        onKeyDown={(event) => {
          if (event.key !== "Enter" || !(event.target instanceof HTMLInputElement)) return;
          event.preventDefault();
          if (event.ctrlKey || event.metaKey) event.currentTarget.requestSubmit();
          else {
            if (at === rows.length - 1) addRow();
            focusLine(at + 1);
          }
        }}
      >
        <div className="overflow-x-auto">
          <table ref={table} className="past-table">
            <thead>
              <tr>
                <th scope="col">Date</th>
                <th scope="col">Time</th>
                <th scope="col">Goal</th>
                <th scope="col">Observed</th>
                <th scope="col">Note</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row, index) => (
                <PastRow
                  key={row["entryId"]}
                  row={row}
                  index={index}
                  isAt={index === at}
                  today={today}
                  students={students}
                  problems={problems}
                  typed={typed}
                  onAt={() => setAt(index)}
                  set={(field, value) => set(index, field, value)}
                />
              ))}
            </tbody>
          </table>
        </div>
        <div className="mt-2 flex flex-wrap items-start gap-x-8 gap-y-3">
          <button type="button" className="btn btn-plain with-scripts" onClick={addRow}>
            Another row
          </button>
          {student && student.goals.length > 1 ? (
            <button
              type="button"
              className="btn btn-plain with-scripts h-auto min-h-10 max-w-full shrink py-1 whitespace-normal"
              onClick={() => addColumn(student.goals)}
            >
              A row for each goal of {student.screenName}
            </button>
          ) : null}
          {alike.length > 1 ? (
            <button
              type="button"
              className="btn btn-plain with-scripts h-auto min-h-10 max-w-full shrink py-1 whitespace-normal"
              onClick={() => addColumn(alike)}
            >
              A row for each student with “{current?.title}”
            </button>
          ) : null}
          {current ? (
            <div className="min-w-[min(100%,16rem)] flex-1 text-fine" role="note" aria-live="polite">
              <p>
                <b>
                  {current.number} {current.title}:
                </b>{" "}
                {typedLineHint(current.measure)}
              </p>
              <p className="text-soft">
                {sheetCodes(current.measure)
                  .map(({ code, means }) => `${code} ${means}`)
                  .join(" · ")}
              </p>
            </div>
          ) : null}
        </div>
        <AnyDay problem={problems["anyDay"]} />
        {/* On a phone the button alone stays in view. */}
        <div className="save-bar mt-4 max-sm:static! max-sm:mb-20">
          <div className="max-sm:fixed max-sm:inset-x-0 max-sm:bottom-(--strip) max-sm:z-10 max-sm:border-t max-sm:border-base-300 max-sm:bg-base-100 max-sm:px-4 max-sm:py-3">
            <button className="btn btn-primary h-11 px-6" disabled={busy}>
              {busy ? "Saving …" : "Save all rows"}
            </button>
          </div>
          <div className="flex flex-wrap gap-3">
            <Select
              label="Purpose of all"
              name="purpose"
              defaultValue={typed?.["purpose"] ?? "probe"}
              options={purposeOptions(["probe", "teaching", "generalisation", "maintenance"])}
            />
            <Select
              label="Setting of all"
              name="setting"
              defaultValue={typed?.["setting"] ?? ""}
              options={[["", "Not recorded"], ...settings.map((one): [string, string] => [one, one])]}
            />
            <Select
              label="Observed by"
              name="observer"
              defaultValue={typed?.["observer"] ?? me.personId}
              options={[me, ...colleagues].map(({ personId, name }): [string, string] => [personId, name])}
            />
          </div>
          <p className="text-fine text-soft max-sm:hidden">
            Enter goes to the next row, Ctrl or ⌘ Enter saves.
          </p>
        </div>
      </Form>
    </main>
  );
}
