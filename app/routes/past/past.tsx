import { useRef, useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Form, Link, redirect, useNavigation, useSearchParams } from "react-router";
import { purposeSchema } from "#core/criteria/criterion.ts";
import { kindOf, readEntry } from "#core/measures/measure.ts";
import { readTypedLine, sheetCodes, typedLineHint } from "#core/sitting/typed-line.ts";
import { plural } from "#core/words/numbers.ts";
import { alsoEnter, enter } from "#server/access/enter.ts";
import { isId } from "#server/access/visit.ts";
import { saveEntry } from "#server/db/entries.ts";
import { schoolNow } from "#server/db/school-time.ts";
import { listItems } from "#server/db/lists.ts";
import { keepTyped } from "#app/recording/keep-typed.server.ts";
import { keepTypedOffline } from "#app/recording/keep-typed-offline.ts";
import { purposeOptions } from "#app/recording/purpose.ts";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { date, optionalText, type Problems, readForm, typedValues } from "#app/ui/form-data.ts";
import { rowName, rowsIn, type TypedRow } from "#app/ui/typed-rows.ts";
import { listRecordable, type RecordableGoal, type RecordableStudent } from "./recordable.server.ts";
import type { Route } from "./+types/past";

const startRows = 8;
/** Observations of a day whose hour nobody wrote down. */
const noon = "12:00";

export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "sitting.open", null, async (visit) => {
    const { searchParams } = new URL(request.url);
    const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
    const students = await listRecordable(visit, searchParams);
    const goals = students.flatMap((student) => student.goals);
    const saved = Number(searchParams.get("saved"));
    return {
      today,
      students,
      settings: await listItems(visit, "setting"),
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

const whole = z.object({ purpose: z._default(purposeSchema, "probe"), setting: optionalText(100) });
const timeOfDay = /^([01]\d|2[0-3]):[0-5]\d$/;

/** What the rows say, entry by entry; what is wrong, by the name of its field. Rows without values are left out. */
function readPast(
  typed: Readonly<Record<string, string>>,
  students: readonly RecordableStudent[],
  today: string,
) {
  const problems: Problems = {};
  const byGoal = new Map(
    students.flatMap(({ studentId, goals }) =>
      goals.map((goal) => [goal.goalId, { studentId, goal }] as const),
    ),
  );
  const entries = rowsIn(typed, "row").flatMap(({ row }, place) => {
    const line = row["line"]?.trim() ?? "";
    const note = row["note"]?.trim() ?? "";
    if (line === "" && note === "") return [];
    const say = (field: string, message: string) => (problems[rowName("row", place, field)] ??= message);
    const on = row["on"] ?? "";
    const at = row["at"]?.trim() || noon;
    if (!date.safeParse(on).success) say("on", "Give the date.");
    else if (on > today) say("on", "This day is still to come.");
    if (!timeOfDay.test(at)) say("at", "Write the time as 10:20.");
    const found = byGoal.get(row["goal"] ?? "");
    if (!found) say("goal", "Choose the goal.");
    if (line === "") say("line", "There is a note and nothing observed.");
    const { entryId } = row;
    if (!found || line === "" || !isId(entryId)) return [];
    const read = readTypedLine(found.goal.measure, line);
    if (!read.ok) {
      say("line", read.message);
      return [];
    }
    const entry = readEntry(found.goal.measure, read.raw);
    if (!entry.ok) {
      say("line", entry.problems.map(({ message }) => message).join(" "));
      return [];
    }
    return [
      {
        entryId,
        place,
        studentId: found.studentId,
        goalId: found.goal.goalId,
        observedLocal: `${on}T${at}`,
        note: note.slice(0, 2000) || null,
        entry: entry.entry,
        score: entry.score,
      },
    ];
  });
  return { entries, problems };
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const typed = typedValues(form);
  const { searchParams } = new URL(request.url);
  return keepTyped(typed, () =>
    enter(request, context, "sitting.open", null, async (visit) => {
      const read = readForm(form, whole);
      if (!read.ok) return data({ problems: read.problems, typed }, { status: 422 });
      const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
      const { entries, problems } = readPast(typed, await listRecordable(visit, searchParams), today);
      if (Object.keys(problems).length > 0) return data({ problems, typed }, { status: 422 });
      if (entries.length === 0)
        return data(
          { problems: { form: "Nothing is written yet: fill at least one row." }, typed },
          { status: 422 },
        );
      // Goals in one order everywhere: two people saving at once wait for each other and never for ever.
      const ordered = [...entries].sort((a, b) => (a.goalId < b.goalId ? -1 : 1));
      for (const { place, ...entry } of ordered) {
        const there = await alsoEnter(visit, "entry.record", entry.studentId);
        const outcome = await saveEntry(there, { ...entry, ...read.values }, entry);
        if (outcome === "conflict") {
          const conflict =
            "An entry with this row’s number is there already and says something else. Write it in a new row.";
          return data({ problems: { [rowName("row", place, "line")]: conflict }, typed }, { status: 409 });
        }
      }
      searchParams.set("saved", String(entries.length));
      return redirect(`/past?${searchParams.toString()}`);
    }),
  );
}

export async function clientAction({ serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction());
}

function Preview({ goal, line }: { goal: RecordableGoal | undefined; line: string }) {
  if (!goal || line.trim() === "") return null;
  const read = readTypedLine(goal.measure, line);
  const entry = read.ok ? readEntry(goal.measure, read.raw) : null;
  if (!read.ok) return <span className="text-soft">{read.message}</span>;
  if (!entry?.ok) return <span className="text-soft">{entry?.problems[0]?.message}</span>;
  return (
    <span className="font-serif">{kindOf(goal.measure).line(goal.measure, entry.entry, entry.score)}</span>
  );
}

/** What has been written down elsewhere, many observations in one go, in the codes of the data sheet that lies beside. */
export default function Past({ loaderData, actionData }: Route.ComponentProps) {
  const { students, today, settings, saved } = loaderData;
  const busy = useNavigation().state !== "idle";
  const [search] = useSearchParams();
  const typed = actionData?.typed;
  const problems: Record<string, string> = actionData?.problems ?? {};
  const [shownFor, setShownFor] = useState({ typed, rows: loaderData.rows });
  const [rows, setRows] = useState<readonly TypedRow[]>(loaderData.rows);
  if (shownFor.typed !== typed || shownFor.rows !== loaderData.rows) {
    const cameBack = shownFor.typed !== typed && typed !== undefined;
    // A fresh table after a save; what was typed where it came back. A read in between changes nothing typed.
    if (cameBack) setRows(rowsIn(typed, "row").map(({ row }) => row));
    else if (saved !== null && typed === undefined) setRows(loaderData.rows);
    setShownFor({ typed, rows: loaderData.rows });
  }
  const [at, setAt] = useState(0);
  const table = useRef<HTMLTableElement>(null);
  const goals = students.flatMap((student) => student.goals);
  const goalOf = (row: TypedRow | undefined) => goals.find(({ goalId }) => goalId === row?.["goal"]);
  const current = goalOf(rows[at]);
  const set = (index: number, field: string, value: string) =>
    setRows(rows.map((row, place) => (place === index ? { ...row, [field]: value } : row)));
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
        <title>Past observations · Gentle Margin</title>
        <h1 className="font-serif text-[1.7rem] leading-tight font-semibold">Past observations</h1>
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
      <title>Past observations · Gentle Margin</title>
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-2 border-b border-base-300 pb-3">
        <h1 className="font-serif text-[1.7rem] leading-tight font-semibold">Past observations</h1>
        <p className="text-fine text-soft">
          One row each, as on the data sheet. The date is today’s unless you change it; left empty, the time
          is {noon}.
        </p>
        <Link to={`/sheets?${search.toString()}`} className="btn btn-plain ml-auto">
          Blank data sheets
        </Link>
      </header>
      {saved ? (
        <p role="status" className="mb-3 rounded-lg bg-arrival px-4 py-2">
          {saved} {plural(saved, "entry", "entries")} kept; {saved === 1 ? "it stands" : "they stand"} in the
          reports now.
        </p>
      ) : null}
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
              {rows.map((row, index) => {
                const name = (field: string) => rowName("row", index, field);
                const wrong = ["on", "at", "goal", "line"].flatMap((field) => problems[name(field)] ?? []);
                const input = (field: string, label: string, more: React.ComponentProps<"input"> = {}) => (
                  <input
                    className="input w-full"
                    name={name(field)}
                    aria-label={`${label}, row ${index + 1}`}
                    value={row[field] ?? ""}
                    aria-invalid={problems[name(field)] ? true : undefined}
                    aria-describedby={wrong.length > 0 ? `says-${index}` : undefined}
                    onFocus={() => setAt(index)}
                    onChange={({ target }) => set(index, field, target.value)}
                    {...more}
                  />
                );
                return (
                  <tr key={row["entryId"]} data-at={index === at || undefined}>
                    <td className="w-40">
                      <input type="hidden" name={name("entryId")} value={row["entryId"] ?? ""} />
                      {input("on", "Date", { type: "date", max: today })}
                    </td>
                    <td className="w-24">
                      {input("at", "Time", { placeholder: noon, inputMode: "numeric" })}
                    </td>
                    <td className="w-64">
                      <select
                        className="select w-full"
                        name={name("goal")}
                        aria-label={`Goal, row ${index + 1}`}
                        value={row["goal"] ?? ""}
                        onFocus={() => setAt(index)}
                        onChange={({ target }) => set(index, "goal", target.value)}
                      >
                        <option value="">choose</option>
                        {students.map((student) => (
                          <optgroup key={student.studentId} label={student.name}>
                            {student.goals.map((goal) => (
                              <option key={goal.goalId} value={goal.goalId}>
                                {students.length > 1 ? `${student.screenName} ` : ""}
                                {goal.number} {goal.title}
                              </option>
                            ))}
                          </optgroup>
                        ))}
                      </select>
                    </td>
                    <td className="min-w-56">
                      {input("line", "Observed", { maxLength: 600, autoComplete: "off" })}
                      <p className="min-h-5 text-fine">
                        {wrong.length > 0 ? (
                          <span id={`says-${index}`} className="font-bold text-error">
                            {wrong.join(" ")}
                          </span>
                        ) : (
                          <Preview goal={goalOf(row)} line={row["line"] ?? ""} />
                        )}
                      </p>
                    </td>
                    <td className="min-w-40">{input("note", "Note", { maxLength: 2000 })}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
        <div className="mt-2 flex flex-wrap items-start gap-x-8 gap-y-3">
          <button type="button" className="btn btn-plain with-scripts" onClick={addRow}>
            Another row
          </button>
          {current ? (
            <div className="min-w-0 flex-1 text-fine" role="note" aria-live="polite">
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
        <div className="save-bar mt-4">
          <button className="btn btn-primary h-11 px-6" disabled={busy}>
            {busy ? "Saving …" : "Save all rows"}
          </button>
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
              options={[["", "not said"], ...settings.map((one): [string, string] => [one, one])]}
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
