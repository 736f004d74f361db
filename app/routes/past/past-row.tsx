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
  onAt,
  set,
}: {
  row: TypedRow;
  index: number;
  isAt: boolean;
  today: string;
  students: readonly RecordableStudent[];
  problems: Readonly<Record<string, string>>;
  onAt: () => void;
  set: (field: string, value: string) => void;
}) {
  const goal = students.flatMap((student) => student.goals).find(({ goalId }) => goalId === row["goal"]);

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
      </td>
      <td className="w-64" data-label="Goal">
        <select
          className="select w-full"
          name={name("goal")}
          aria-label={`Goal, row ${index + 1}`}
          value={row["goal"] ?? ""}
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
      </td>
      <td className="min-w-56" data-label="Observed">
        {input("line", "Observed", { maxLength: 600, autoComplete: "off" })}
        <p className="min-h-5 text-fine">
          {wrong.length > 0 ? (
            <span id={`says-${index}`} className="font-bold text-error">
              {wrong.join(" ")}
            </span>
          ) : (
            <Preview goal={goal} line={row["line"] ?? ""} />
          )}
        </p>
      </td>
      <td className="min-w-40" data-label="Note">
        {input("note", "Note", { maxLength: 2000 })}
      </td>
    </tr>
  );
}
