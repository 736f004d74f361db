import type { Criterion } from "#core/criteria/criterion.ts";
import type { TemplateContent } from "#server/db/templates.ts";
import { measures } from "./measures.ts";
import type { PersonKey } from "./school.ts";

function criterion(value: number, k: number, n: number, more: Partial<Criterion> = {}): Criterion {
  return {
    value,
    direction: "increase",
    window: { k, n },
    windowUnit: "session",
    purposes: ["probe"],
    ...more,
  };
}

/** The demo school's library of goals with blanks. */
export const templates: (TemplateContent & { by: PersonKey })[] = [
  {
    by: "noor",
    title: "Asks for a break",
    area: "Behavior",
    wording:
      "By {date}, when work becomes hard, {student} will hand over a {kind of card} before leaving the table with no more than a gestural prompt in 4 of 5 opportunities on 3 consecutive days.",
    setUp: {
      measure: measures.breakCard,
      criterion: criterion(80, 3, 3, { windowUnit: "day" }),
      schedule: { perWeek: 3 },
      strategy:
        "The card lies at the corner of the table. Any use of it is honored at once, for two minutes.",
    },
  },
  {
    by: "noor",
    title: "Reads a passage aloud",
    area: "Reading",
    wording:
      "By {date}, given a passage of grade {grade}, {student} will read aloud at {number} words per minute with 95% accuracy in 3 consecutive sessions.",
    setUp: {
      measure: measures.passage,
      criterion: criterion(90, 3, 3, {
        joined: [{ figure: "accuracy", value: 95, direction: "increase" }],
      }),
      schedule: { perWeek: 1 },
      strategy: "",
    },
  },
  {
    by: "paloma",
    title: "Packs a bag",
    area: "Daily living",
    wording:
      "By {date}, at the end of the day, {student} will pack the school bag by a seven-step task analysis, completing all 7 steps independently on 4 of 5 days.",
    setUp: {
      measure: measures.packingABag,
      criterion: criterion(100, 4, 5, { windowUnit: "day" }),
      schedule: { weekdays: [1, 2, 3, 4, 5] },
      strategy: "Backward: the adult does the steps before, {student} finishes.",
    },
  },
  {
    by: "ines",
    title: "Says {sound} in words",
    area: "Speech",
    wording:
      "By {date}, {student} will say {sound} at the start of words correctly in 18 of 20 productions across 3 consecutive sessions.",
    setUp: {
      measure: { kind: "trials", planned: 20 },
      criterion: criterion(90, 3, 3),
      schedule: { perWeek: 2 },
      strategy: "",
    },
  },
  {
    by: "teo",
    title: "Stays with the task",
    area: "Organization",
    wording:
      "By {date}, during {lesson}, {student} will be on task in 80% of momentary time samples taken every minute for 20 minutes, in 4 of 5 sessions.",
    setUp: {
      measure: measures.onTask,
      criterion: criterion(80, 4, 5),
      schedule: { perWeek: 2 },
      strategy: "",
    },
  },
  {
    by: "noor",
    title: "Writes a paragraph",
    area: "Writing",
    wording:
      "By {date}, given a topic and {help}, {student} will write a paragraph scoring at least 12 of 16 points on the school’s rubric on 3 of 4 writing samples.",
    setUp: {
      measure: measures.paragraph,
      criterion: criterion(75, 3, 4),
      schedule: { perWeek: 1 },
      strategy: "",
    },
  },
];
