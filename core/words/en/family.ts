import { dateWithYear } from "../dates.ts";
import { inDigits, plural } from "../numbers.ts";
import type { standingNamesEn } from "./standing-names.ts";

type StandingKey = keyof typeof standingNamesEn;

/** How a goal goes, in the words of a family report. */
const standings: Record<StandingKey, (name: string) => string> = {
  met: () => "This goal is met.",
  reached: (name) => `${name} has reached this goal. The team will confirm it.`,
  lost: (name) => `${name} met this goal before and does not meet it now. The team will look at it again.`,
  "new-phase": () => "A new way of teaching has begun. It is too early to tell how it is going.",
  "too-few": () => "There are too few measurements to tell how it is going.",
  "past-due": () => "The date for this goal has passed. The team will decide what comes next.",
  ahead: (name) => `${name} is ahead of what is expected by now.`,
  on: (name) => `${name} is where the team expects by now.`,
  behind: (name) =>
    `${name} is behind what is expected by now. The team will look at how this goal is taught.`,
  "no-line": () => "No date is set by which this goal should be reached.",
};

/** The same in a few words, for the first lines. */
const briefly: Record<StandingKey, string> = {
  met: "Met.",
  reached: "Reached; the team will confirm it.",
  lost: "Not met at present.",
  "new-phase": "A new way of teaching has begun.",
  "too-few": "Too early to tell.",
  "past-due": "The date has passed.",
  ahead: "Ahead of what is expected.",
  on: "As expected.",
  behind: "Behind what is expected.",
  "no-line": "No date is set.",
};

/** Plain sentences for families, at about a sixth-grade level; English. */
export const familyEn = {
  /** @param criterion in words: "80% in 3 of the last 4 sessions" */
  meaning: (name: string, title: string, criterion: string, due: string | null) =>
    `In plain words: ${name} is working on “${title}”. The goal is ${criterion}${due ? `, by ${dateWithYear(due)}` : ""}.`,
  standing: (key: StandingKey, name: string) => standings[key](name),
  briefly: (key: StandingKey) => briefly[key],
  /** @param isOtherwise it speaks against the sentence before it, as where a goal is ahead now and rises too slowly */
  pace: (isEnough: boolean, isOtherwise: boolean) =>
    `${isOtherwise ? "But at" : "At"} this pace, the goal will ${isEnough ? "be" : "not be"} reached by its date.`,
  atFirst: () => "At first",
  now: () => "Now",
  measurements: (n: number) => `${inDigits(n)} ${plural(n, "measurement")}`,
  iep: () => "IEP (individualized education program)",
  stale: () => "This goal was not measured lately.",
  notMeasured: () => "This goal was not measured yet.",
  glance: (title: string, figures: readonly string[], standing: string) =>
    `${title}: ${figures.length > 0 ? `${figures.join("\u00a0→\u00a0")}. ` : ""}${standing}`,
  /** Who observed, and who wrote it: "T. Brandvold, written by N. Halloran". */
  writtenBy: (observer: string, writer: string) => `${observer}, written by ${writer}`,
  /** A position as the school wrote it, where it has a usual name in this language. */
  position: (position: string) => position,
  columns: { on: "Day", result: "What was recorded", note: "Note", by: "Recorded by" },
};

/** What only families and other readers outside the team read, in one language. */
export type FamilyWords = typeof familyEn;
