import { expect, it } from "vitest";
import { meetingAgenda } from "./meeting-agenda.ts";

it("an agenda begins with what is reached, then what is behind, then what is due within 45 days, and keeps the order of the IEP", () => {
  const goals = [
    { goalId: "1", standing: "on" as const, dueOn: "2027-03-01" },
    { goalId: "2", standing: "behind" as const, dueOn: "2027-03-01" },
    // November 24 and 45 days are January 8.
    { goalId: "3", standing: "ahead" as const, dueOn: "2027-01-08" },
    { goalId: "4", standing: "reached" as const, dueOn: null },
    { goalId: "5", standing: null, dueOn: "2027-01-09" },
    { goalId: "6", standing: "past-due" as const, dueOn: "2026-11-01" },
    { goalId: "7", standing: "met" as const, dueOn: null },
  ];
  expect(meetingAgenda(goals, "2026-11-24").map(({ goal, reason }) => `${goal.goalId} ${reason}`)).toEqual([
    ...["4 reached", "7 reached", "2 behind", "6 behind", "3 due", "1 other", "5 other"],
  ]);
});
