import { weekdayNames } from "#core/dates/week.ts";
import { TextBox, TextField, Tick } from "./fields.tsx";

/** How often a week, or on which days, it should be measured. */
export function ScheduleFields() {
  return (
    <div className="grid grid-cols-[9rem_1fr] gap-3 max-sm:grid-cols-1">
      <TextField name="perWeek" label="Times a week" numeric hint="Or on given days:" />
      <div className="flex flex-wrap items-center gap-x-4 self-center">
        {weekdayNames.slice(0, 5).map((day, index) => (
          <Tick key={day} name={`weekday.${index + 1}`} label={day} />
        ))}
      </div>
    </div>
  );
}

export function StrategyField() {
  return (
    <TextBox
      name="strategy"
      label="How it is taught"
      rows={3}
      hint="One touch away on the recording screen."
    />
  );
}

const fieldNames: Record<string, string> = {
  wording: "wording",
  number: "number",
  title: "short name",
  kind: "how it is measured",
  value: "value",
  window: "in how many of how many",
  parts: "the list of parts",
  levels: "prompt levels",
  credited: "credited level",
  dueOn: "due date",
  within: "in time",
  interval: "length of an interval",
  criteria: "criteria",
  outcomes: "outcomes",
  target: "target",
  unit: "what is added up",
};

/** Which fields still ask for something, in a few words. */
export function openFields(problems: readonly { field: string }[]): string {
  const names = problems.map(({ field }) =>
    field.startsWith("blank.") ? `{${field.slice(6)}}` : (fieldNames[field] ?? field),
  );
  return [...new Set(names)].slice(0, 5).join(", ");
}
