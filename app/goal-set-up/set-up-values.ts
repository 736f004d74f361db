import type { Criterion } from "#core/criteria/criterion.ts";
import { type Measure, unitOf } from "#core/measures/measure.ts";
import { clockTime } from "#core/words/read-time.ts";
import type { GoalContent } from "#server/db/goals.ts";

/** What a set-up form holds: field name → what stands in it. */
export type SetUpValues = Readonly<Record<string, string>>;

/** A set-up as read from its form, in the shape that is stored. */
export type SetUp = GoalContent;

/** What a template says of how a goal is measured; its words, with blanks, stand beside it. */
export type TemplateSetUp = Pick<GoalContent, "measure" | "criterion" | "schedule" | "strategy">;

export const plain = (value: number) => String(Math.round(value * 100) / 100);
export const said = (value: number, unit: string) => (unit === "seconds" ? timeText(value) : plain(value));

/** A time as it is typed: 600 → "10 min", 45 → "45 s", 250 → "4:10". */
export function timeText(seconds: number): string {
  if (seconds > 0 && seconds % 60 === 0) return `${seconds / 60} min`;
  return seconds < 60 ? `${seconds} s` : clockTime(seconds);
}

function measureValues(measure: Measure): Record<string, string> {
  const ladder = (one: { levels: string[]; misses: string[]; credited: string }) => ({
    levels: one.levels.join("\n"),
    misses: one.misses.join("\n"),
    credited: one.credited,
  });
  const all: Record<string, string> = { kind: measure.kind };
  if ("planned" in measure && measure.planned) all["planned"] = String(measure.planned);
  switch (measure.kind) {
    case "supports":
      return {
        ...all,
        ...ladder(measure),
        ...Object.fromEntries(
          measure.misses.flatMap((miss, index) =>
            measure.countMisses && !measure.countMisses.includes(miss) ? [[`leaveOut.${index}`, "yes"]] : [],
          ),
        ),
      };
    case "skills":
      return { ...all, ...ladder(measure), parts: measure.skills.join("\n") };
    case "checklist":
      return { ...all, parts: measure.items.join("\n") };
    case "steps":
      return {
        ...all,
        ...ladder(measure),
        parts: measure.steps.join("\n"),
        teaching: measure.teaching ?? "",
      };
    case "count":
      return { ...all, per: measure.per, counted: measure.counted ?? "" };
    case "duration":
      return { ...all, report: measure.report };
    case "latency":
      return {
        ...all,
        report: measure.report,
        within: measure.withinSeconds ? timeText(measure.withinSeconds) : "",
      };
    case "intervals":
      return { ...all, method: measure.method, interval: timeText(measure.intervalSeconds) };
    case "fluency":
      return {
        ...all,
        counted: measure.counted ?? "words",
        length: measure.plannedSeconds ? timeText(measure.plannedSeconds) : "",
      };
    case "rubric":
      return {
        ...all,
        ...Object.fromEntries(
          measure.criteria.flatMap(({ id, label, max, levels }, row) => [
            [`criterion.${row}.id`, id],
            [`criterion.${row}.label`, label ?? id],
            [`criterion.${row}.max`, String(max)],
            [`criterion.${row}.levels`, (levels ?? []).join("\n")],
          ]),
        ),
      };
    case "outcomes":
      return {
        ...all,
        ...Object.fromEntries(
          measure.outcomes.flatMap(({ id, label, credit }, row) => [
            [`outcome.${row}.id`, id],
            [`outcome.${row}.label`, label ?? id],
            [`outcome.${row}.credit`, String(credit)],
          ]),
        ),
      };
    case "running-total":
      return {
        ...all,
        target: plain(measure.target),
        unit: measure.unit,
        startsAgain: measure.startsAgain ?? "",
      };
    case "trials":
      return all;
  }
}

function criterionValues(criterion: Criterion | null, unit: string): Record<string, string> {
  if (criterion === null) return { "purpose.probe": "yes" };
  const joined = criterion.joined?.[0];
  return {
    value: said(criterion.value, unit),
    direction: criterion.direction,
    k: String(criterion.window.k),
    n: String(criterion.window.n),
    windowUnit: criterion.windowUnit,
    minimumOpportunities: criterion.minimumOpportunities ? String(criterion.minimumOpportunities) : "",
    ...Object.fromEntries(criterion.purposes.map((purpose) => [`purpose.${purpose}`, "yes"])),
    ...(joined ? { "joined.figure": joined.figure, "joined.value": plain(joined.value) } : {}),
    settings: criterion.settings ? String(criterion.settings) : "",
    people: criterion.people ? String(criterion.people) : "",
    confirm: (criterion.confirm ?? []).join("\n"),
  };
}

/** A template as the fields of a form; blanks stay blanks. */
export function templateValues({
  title,
  area,
  wording,
  setUp: { measure, criterion, schedule, strategy },
}: {
  title: string;
  area: string;
  wording: string;
  setUp: TemplateSetUp;
}): SetUpValues {
  return {
    title,
    area,
    wording,
    ...measureValues(measure),
    ...criterionValues(criterion, unitOf(measure)),
    perWeek: schedule && "perWeek" in schedule ? String(schedule.perWeek) : "",
    ...(schedule && "weekdays" in schedule
      ? Object.fromEntries(schedule.weekdays.map((day) => [`weekday.${day}`, "yes"]))
      : {}),
    strategy,
  };
}

/** The other way: a set-up that is there, as the fields of its form. */
export function setUpValues(setUp: SetUp): SetUpValues {
  const unit = unitOf(setUp.measure);
  const { enteredBaseline, baselineEntries } = setUp;
  return {
    number: setUp.number,
    ...templateValues({ ...setUp, setUp }),
    startOn: setUp.startOn ?? "",
    dueOn: setUp.dueOn ?? "",
    annualReviewOn: setUp.annualReviewOn ?? "",
    baseline: enteredBaseline ? "entered" : baselineEntries ? "entries" : "",
    baselineValue: enteredBaseline ? said(enteredBaseline.value, unit) : "",
    baselineOn: enteredBaseline?.date ?? "",
    baselineEntries: baselineEntries ? String(baselineEntries) : "",
    measuredBy: setUp.measuredBy ?? "",
    parentId: setUp.parentId ?? "",
  };
}
