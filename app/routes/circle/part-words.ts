import type { CircleRole } from "#server/access/actor.ts";

/** What each part in a circle is called. */
export const circlePartWords: Record<CircleRole, string> = {
  lead: "leads",
  record: "records",
  read: "reads",
};

/** The parts as they are chosen, with what each means. */
export const partChoices: readonly (readonly [CircleRole, string, string])[] = [
  ["record", "Records", "sees everything of the student and records"],
  ["read", "Reads", "sees everything of the student"],
  ["lead", "Leads", "also sets up goals, decides, corrects, makes editions, says who is in the circle"],
];
