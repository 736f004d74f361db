import { shortDate } from "../dates.ts";

const acts = {
  met: "Met",
  "not met": "Not met",
  discontinued: "Discontinued",
  continued: "Continued",
  "taken up again": "Taken up again",
};

const kinds = {
  trials: "trials, correct or not",
  supports: "prompt levels",
  skills: "a grid of sub-skills",
  checklist: "a checklist of items",
  steps: "a task analysis in steps",
  count: "a count or rate",
  duration: "duration",
  latency: "latency",
  intervals: "intervals",
  fluency: "fluency",
  rubric: "a rubric",
  outcomes: "named outcomes",
  "running-total": "a running total",
};

const since = (on: string) => `since ${shortDate(on)}`;

/** What happened to the set-up of a goal, each without its full stop; English. */
export const goalHistoryEn = {
  setUp: (criterion: string | null) => `Set up: ${criterion ?? "no criterion yet"}`,
  changed: () => "Set-up changed",
  act: (act: keyof typeof acts, on: string) => `${acts[act]} on ${shortDate(on)}`,
  wording: (on: string, before: string) => `Wording changed ${since(on)}; before: “${before}”`,
  criterion: (on: string, now: string | null, before: string | null) =>
    `Criterion ${since(on)}: ${now ?? "none"}; before: ${before ?? "none"}`,
  measure: (on: string) => `Measure changed ${since(on)}`,
  kind: (on: string, now: keyof typeof kinds, before: keyof typeof kinds) =>
    `Measured as ${kinds[now]} ${since(on)}; before: ${kinds[before]}`,
  due: (now: string | null, before: string | null) =>
    `Due ${now === null ? "on no date" : shortDate(now)}; before: ${before === null ? "no date" : shortDate(before)}`,
  number: (now: string, before: string) => `Number ${now}; before: ${before}`,
  title: (now: string, before: string) => `Named “${now}”; before: “${before}”`,
};

/** The history of a goal in one language. */
export type GoalHistoryWords = typeof goalHistoryEn;
