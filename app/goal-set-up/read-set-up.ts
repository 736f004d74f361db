import { type Criterion, criterionSchema, type Joined, purposes } from "#core/criteria/criterion.ts";
import { detailsOf } from "#core/measures/details-of.ts";
import { type Measure, readMeasure, unitOf } from "#core/measures/measure.ts";
import { type Problem, problemsFrom } from "#core/measures/score.ts";
import { isDate } from "#core/dates/day-number.ts";
import { type Schedule, scheduleSchema } from "#core/schedule/schedule.ts";
import { blanksIn, dateBlank, fillBlanks } from "#core/goal-wording/blanks.ts";
import { fullDate } from "#core/words/dates.ts";
import { lines } from "#app/ui/lines.ts";
import { filled, readFieldNumber, readFieldTime } from "#app/measures/set-up-form.ts";
import { fieldOfMeasure, rawMeasure } from "#app/measures/set-up-forms.ts";
import type { SetUp, SetUpValues, TemplateSetUp } from "./set-up-values.ts";

function readValue(values: SetUpValues, unit: string): number | undefined {
  return unit === "seconds" ? readFieldTime(values["value"]) : readFieldNumber(values["value"]);
}

function readCriterion(values: SetUpValues, measure: Measure, problems: Problem[]): Criterion | null {
  const unit = unitOf(measure);
  const value = measure.kind === "running-total" ? measure.target : readValue(values, unit);
  const [k, n] = [readFieldNumber(values["k"]), readFieldNumber(values["n"])];
  if (value === undefined && k === undefined && n === undefined) return null;
  const at = problems.length;
  if (value === undefined) problems.push({ field: "value", message: "What is to be reached?" });
  else if (Number.isNaN(value))
    problems.push({
      field: "value",
      message: unit === "seconds" ? "Write it as 10 min, 45 s or 4:10." : "Give a number.",
    });
  else if (unit === "percent" && (value < 0 || value > 100))
    problems.push({ field: "value", message: "A percentage is from 0 to 100." });
  if (k === undefined || n === undefined)
    problems.push({ field: "window", message: "In how many of how many? If once is enough, 1 of 1." });
  if (problems.length > at) return null;
  const joined: Joined[] = [];
  const figure = filled(values["joined.figure"]);
  if (figure !== null) {
    const side = detailsOf(measure)
      .sideFigures(measure)
      .find((one) => one.figure === figure);
    const joinedValue = readFieldNumber(values["joined.value"]);
    if (!side) problems.push({ field: "joined", message: "This measure has no such figure." });
    else if (joinedValue === undefined || Number.isNaN(joinedValue))
      problems.push({ field: "joined", message: `Which ${side.label}?` });
    else joined.push({ figure, value: joinedValue, direction: side.better });
  }
  const counted = purposes.filter((purpose) => values[`purpose.${purpose}`] === "yes");
  const confirm = lines(values["confirm"]);
  const parsed = criterionSchema.safeParse({
    value,
    direction: values["direction"] || detailsOf(measure).better(measure),
    window: { k, n },
    windowUnit: values["windowUnit"] || "session",
    minimumOpportunities: readFieldNumber(values["minimumOpportunities"]),
    purposes: counted.length > 0 ? counted : ["probe"],
    ...(joined.length > 0 ? { joined } : {}),
    settings: readFieldNumber(values["settings"]),
    people: readFieldNumber(values["people"]),
    ...(confirm.length > 0 ? { confirm } : {}),
  });
  if (parsed.success) return parsed.data;
  for (const { field } of problemsFrom(parsed.error)) {
    const top = field.split(".")[0] ?? "";
    problems.push(
      top === "window"
        ? { field: "window", message: "Give two whole numbers, the first not above the second: 3 of 4." }
        : top === "settings" || top === "people"
          ? { field: top, message: "A whole number from 2 on, or nothing." }
          : top === "confirm"
            ? { field: "confirm", message: "At most ten, each at most 200 characters." }
            : { field: top, message: "Give a whole number from 1 on, or nothing." },
    );
  }
  return null;
}

function readSchedule(values: SetUpValues, problems: Problem[]): Schedule | null {
  const weekdays = [1, 2, 3, 4, 5, 6, 7].filter((day) => values[`weekday.${day}`] === "yes");
  const perWeek = readFieldNumber(values["perWeek"]);
  if (weekdays.length === 0 && perWeek === undefined) return null;
  const parsed = scheduleSchema.safeParse(weekdays.length > 0 ? { weekdays } : { perWeek });
  if (parsed.success) return parsed.data;
  problems.push({ field: "perWeek", message: "How many times a week, from 1 to 20?" });
  return null;
}

const dateFields = [
  ["startOn", "start"],
  ["dueOn", "due"],
  ["annualReviewOn", "annual review"],
] as const;

const withBlanks = ["wording", "title", "strategy"] as const;

/** The blanks of what stands in a form, in the order in which they come. */
export function blanksOf(values: SetUpValues): string[] {
  return blanksIn(withBlanks.map((field) => values[field] ?? "").join("\n"));
}

/** The field of a form that fills a blank; the due date fills its own. */
export function blankField(name: string): string {
  return name === dateBlank ? "dueOn" : `blank.${name}`;
}

function blankValues(values: SetUpValues): Record<string, string | undefined> {
  const dueOn = values["dueOn"] ?? "";
  return Object.fromEntries(
    blanksOf(values).map((name) => [
      name,
      name === dateBlank ? (isDate(dueOn) ? fullDate(dueOn) : undefined) : values[blankField(name)],
    ]),
  );
}

/** The wording as it will stand, as far as its blanks are filled. */
export function filledWording(values: SetUpValues): string {
  return fillBlanks(values["wording"] ?? "", blankValues(values));
}

/** Reads a set-up from its form: what is stored, or every problem beside its field. */
export function readSetUp(
  typed: SetUpValues,
): { ok: true; setUp: SetUp } | { ok: false; problems: Problem[] } {
  const filled = blankValues(typed);
  const open = blanksOf(typed).filter((name) => !filled[name]?.trim());
  const read = readContent({
    ...typed,
    ...Object.fromEntries(withBlanks.map((field) => [field, fillBlanks(typed[field] ?? "", filled)])),
  });
  if (open.length === 0) return read;
  const problems = open.map((name) => ({
    field: blankField(name),
    message:
      name === dateBlank
        ? "The wording has {date}: when is it due?"
        : `What replaces {${name}}? Or remove it from the wording.`,
  }));
  return { ok: false, problems: [...problems, ...(read.ok ? [] : read.problems)] };
}

/** Reads a template from its form: a set-up without what only a student's goal has, its blanks left open. */
export function readTemplate(
  values: SetUpValues,
):
  | { ok: true; template: { title: string; area: string; wording: string; setUp: TemplateSetUp } }
  | { ok: false; problems: Problem[] } {
  const read = readContent({
    ...values,
    number: "1",
    startOn: "",
    dueOn: "",
    annualReviewOn: "",
    baseline: "",
    parentId: "",
    measuredBy: "",
  });
  if (!read.ok) return read;
  const { title, area, wording, measure, criterion, schedule, strategy } = read.setUp;
  return { ok: true, template: { title, area, wording, setUp: { measure, criterion, schedule, strategy } } };
}

function readContent(values: SetUpValues): { ok: true; setUp: SetUp } | { ok: false; problems: Problem[] } {
  const problems: Problem[] = [];
  const text = (field: string, most: number, missing: string | null) => {
    const typed = filled(values[field]) ?? "";
    if (typed === "" && missing !== null) problems.push({ field, message: missing });
    if (typed.length > most) problems.push({ field, message: `At most ${most} characters.` });
    return typed;
  };
  const wording = text("wording", 2000, "Paste or type the goal as the IEP has it.");
  const title = text("title", 200, "Give it a short name, for tabs and lists.");
  const goalNumber = text("number", 12, "Which number has it on the IEP page?");
  const area = text("area", 100, null);
  const strategy = text("strategy", 2000, null);
  const dates = Object.fromEntries(
    dateFields.map(([field, said]) => {
      const typed = filled(values[field]);
      if (typed !== null && !isDate(typed))
        problems.push({ field, message: `This ${said} date does not exist.` });
      return [field, typed];
    }),
  ) as Record<(typeof dateFields)[number][0], string | null>;
  if (
    dates.startOn &&
    dates.dueOn &&
    isDate(dates.startOn) &&
    isDate(dates.dueOn) &&
    dates.dueOn <= dates.startOn
  )
    problems.push({ field: "dueOn", message: "The due date lies before the start." });
  const read = readMeasure(rawMeasure(values));
  if (!read.ok) {
    for (const { field, message } of read.problems) {
      const [top = "", row, part] = field.split(".");
      const name = fieldOfMeasure(values["kind"], top);
      problems.push({
        field: name,
        message: row === undefined ? message : `${Number(row) + 1}${part ? ` (${part})` : ""}: ${message}`,
      });
    }
    return { ok: false, problems };
  }
  const { measure } = read;
  const criterion = readCriterion(values, measure, problems);
  const schedule = readSchedule(values, problems);
  const unit = unitOf(measure);
  let enteredBaseline: SetUp["enteredBaseline"] = null;
  let baselineEntries: number | null = null;
  if (values["baseline"] === "entered") {
    const value =
      unit === "seconds" ? readFieldTime(values["baselineValue"]) : readFieldNumber(values["baselineValue"]);
    const date = filled(values["baselineOn"]);
    if (value === undefined || Number.isNaN(value))
      problems.push({ field: "baselineValue", message: "What was the baseline?" });
    if (date === null || !isDate(date)) problems.push({ field: "baselineOn", message: "On which date?" });
    if (problems.length === 0 && value !== undefined && date !== null) enteredBaseline = { date, value };
  } else if (values["baseline"] === "entries") {
    const count = readFieldNumber(values["baselineEntries"]) ?? Number.NaN;
    if (Number.isInteger(count) && count >= 1 && count <= 20) baselineEntries = count;
    else problems.push({ field: "baselineEntries", message: "From how many of the first entries, 1 to 20?" });
  }
  if (problems.length > 0) return { ok: false, problems };
  return {
    ok: true,
    setUp: {
      number: goalNumber,
      title,
      area,
      wording,
      measure,
      criterion,
      ...dates,
      enteredBaseline,
      baselineEntries,
      schedule,
      strategy,
      measuredBy: filled(values["measuredBy"]),
      parentId: filled(values["parentId"]),
    },
  };
}
