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
    <TextBox name="strategy" label="How it is taught" rows={3} hint="One tap away on the recording screen." />
  );
}

/** The visible label of each field that can be open. */
const fieldNames: Record<string, string> = {
  wording: "Wording",
  number: "Number",
  title: "Short name",
  area: "Area",
  kind: "Kind",
  value: "Value",
  window: "In how many of how many",
  joined: "And also",
  confirm: "For a person to confirm",
  settings: "In how many settings",
  people: "With how many people",
  minimumOpportunities: "Opportunities at least",
  parts: "the list of items, sub-skills or steps",
  levels: "Levels, least to most help",
  misses: "Misses",
  credited: "Credited up to",
  planned: "Opportunities in one probe",
  startOn: "Start",
  dueOn: "Due",
  annualReviewOn: "Annual review",
  baselineOn: "Baseline date",
  baselineValue: "Baseline value",
  baselineEntries: "Baseline entries",
  within: "In time is within",
  interval: "Each lasts",
  length: "One reading lasts",
  criteria: "Criteria",
  outcomes: "Outcomes",
  target: "Target",
  unit: "Of what",
  report: "Reported",
  per: "Counted",
  method: "Method",
  perWeek: "Times a week",
  strategy: "How it is taught",
};

/** Which fields still ask for something, by their visible labels. */
export function openFields(problems: readonly { field: string }[]): string {
  const names = problems.map(({ field }) =>
    field.startsWith("blank.")
      ? `{${field.slice(6)}}`
      : (fieldNames[field.split(".")[0] ?? ""] ?? fieldNames[field] ?? "a field above"),
  );
  return [...new Set(names)].slice(0, 5).join(", ");
}
