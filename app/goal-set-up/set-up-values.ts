import type { Criterion } from "#core/criteria/criterion.ts";
import type { Goal } from "#core/model/goal.ts";
import { unitOf } from "#core/measures/measure.ts";
import { plain, timeText } from "#app/measures/set-up-form.ts";
import { measureValues } from "#app/measures/set-up-forms.ts";
import type { GoalContent } from "#server/db/goals.ts";

/** What a set-up form holds: field name → what stands in it. */
export type SetUpValues = Readonly<Record<string, string>>;

/** A set-up as read from its form, in the shape that is stored. */
export type SetUp = GoalContent;

/** What a template says of how a goal is measured; its words, with blanks, stand beside it. */
export type TemplateSetUp = Pick<GoalContent, "measure" | "criterion" | "schedule" | "strategy">;

export const said = (value: number, unit: string) => (unit === "seconds" ? timeText(value) : plain(value));

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

/** The set-up of a goal that is there. */
export function setUpOf(goal: Goal): SetUp {
  const { number, title, area, wording, measure, startOn, annualReviewOn, schedule, strategy } = goal;
  const { criterion, dueOn, enteredBaseline, baselineEntries = null } = goal.setup;
  return {
    number,
    title,
    area,
    wording,
    measure,
    criterion,
    startOn,
    dueOn,
    annualReviewOn,
    enteredBaseline,
    baselineEntries,
    schedule,
    strategy,
    measuredBy: goal.measuredBy,
    parentId: goal.parentId,
  };
}
