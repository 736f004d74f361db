import "#app/names/load-names.ts";
import { entriesEn } from "#core/words/en/entries.ts";
import { kindOf, readEntry } from "#core/measures/measure.ts";
import { readTypedLine } from "#core/measures/sheet-lines.ts";
import { rowName, type TypedRow } from "#app/ui/typed-rows.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { timeIn } from "#core/words/read-time-of-day.ts";
import { noon } from "./noon.ts";
import type { RecordableGoal, RecordableStudent } from "./recordable.server.ts";

function Preview({ goal, line }: { goal: RecordableGoal | undefined; line: string }) {
  if (!goal || line.trim() === "") return null;
  const read = readTypedLine(goal.measure, line);
  const entry = read.ok ? readEntry(goal.measure, read.raw) : null;
  if (!read.ok) return <span className="text-soft">{read.message}</span>;
  if (!entry?.ok) return <span className="text-soft">{entry?.problems[0]?.message}</span>;
  return (
    <span className="font-serif">
      {kindOf(goal.measure).line(goal.measure, entry.entry, entry.score, entriesEn)}
    </span>
  );
}

/** One observation of the table, with what it comes to or what is wrong with it. */
export function PastRow({
  row,
  index,
  isAt,
  today,
  students,
  problems,
  typed,
  onAt,
  set,
}: {
  row: TypedRow;
  index: number;
  isAt: boolean;
  today: string;
  students: readonly RecordableStudent[];
  problems: Readonly<Record<string, string>>;
  /** What was sent when these problems were found. */
  typed: Readonly<Record<string, string>> | undefined;
  onAt: () => void;
  set: (field: string, value: string) => void;
}) {
  const student = students.find(({ goals }) => goals.some(({ goalId }) => goalId === row["goal"]));
  const goal = student?.goals.find(({ goalId }) => goalId === row["goal"]);

  const name = (field: string) => rowName("row", index, field);
  /** What is wrong with a field, until it is changed. */
  const wrongOf = (field: string) =>
    (typed?.[name(field)] ?? "") === (row[field] ?? "") ? problems[name(field)] : undefined;
  const says = (field: string) =>
    wrongOf(field) ? (
      <p id={`says-${index}-${field}`} className="text-fine font-bold text-error">
        {wrongOf(field)}
      </p>
    ) : null;
  const input = (field: string, label: string, more: React.ComponentProps<"input"> = {}) => (
    <input
      className="input w-full"
      name={name(field)}
      aria-label={`${label}, row ${index + 1}`}
      value={row[field] ?? ""}
      aria-invalid={wrongOf(field) ? true : undefined}
      aria-describedby={wrongOf(field) ? `says-${index}-${field}` : undefined}
      onFocus={onAt}
      onChange={({ target }) => set(field, target.value)}
      {...more}
    />
  );
  return (
    <tr data-at={isAt || undefined}>
      <td className="w-40" data-label="Date">
        <input type="hidden" name={name("entryId")} value={row["entryId"] ?? ""} />
        {input("on", "Date", { type: "date", max: today })}
        {says("on")}
      </td>
      <td className="w-28" data-label="Time">
        {input("at", "Time", {
          placeholder: timeOfDay(noon),
          autoComplete: "off",
          // Left, it shows the time it was read as.
          onBlur: ({ target }) => {
            const time = timeIn(target.value);
            if (time) set("at", timeOfDay(time));
          },
        })}
        {says("at")}
      </td>
      <td className="w-64" data-label="Goal">
        <select
          className="select w-full"
          name={name("goal")}
          aria-label={`Goal, row ${index + 1}`}
          value={row["goal"] ?? ""}
          aria-invalid={wrongOf("goal") ? true : undefined}
          aria-describedby={wrongOf("goal") ? `says-${index}-goal` : undefined}
          onFocus={onAt}
          onChange={({ target }) => set("goal", target.value)}
        >
          <option value="">choose</option>
          {students.map((student) => (
            <optgroup key={student.studentId} label={student.name}>
              {student.goals.map((one) => (
                <option key={one.goalId} value={one.goalId}>
                  {students.length > 1 ? `${student.screenName} ` : ""}
                  {one.number} {one.title}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
        {says("goal")}
      </td>
      <td className="min-w-56" data-label="Observed">
        {input("line", "Observed", { maxLength: 600, autoComplete: "off" })}
        {says("line") ?? (
          <p className="min-h-5 text-fine">
            <Preview goal={goal} line={row["line"] ?? ""} />
          </p>
        )}
      </td>
      <td className="min-w-40" data-label="Note">
        {input("note", "Note", { maxLength: 2000 })}
        <names-under about={student?.studentId ?? ""} />
      </td>
    </tr>
  );
}
