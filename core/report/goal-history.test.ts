import { describe, expect, it } from "vitest";
import { goalHistory, type GoalVersion } from "./goal-history.ts";

const version = (
  revision: number,
  act: GoalVersion["act"],
  setUp: Partial<GoalVersion["content"]["setUp"]> = {},
): GoalVersion => ({
  revision,
  act,
  by: "N. Halloran",
  on: "2026-10-12",
  reason: null,
  content: {
    fromOn: "2026-10-12",
    setUp: {
      number: "2b",
      title: "Subtraction",
      wording: "…",
      area: "",
      criterion: {
        value: 70,
        direction: "increase",
        window: { k: 1, n: 1 },
        windowUnit: "session",
        purposes: ["probe"],
      },
      measure: { kind: "trials" },
      dueOn: "2027-02-12",
      ...setUp,
    },
  },
});

describe("the history of a goal", () => {
  it("says what holds since when, and what stood before", () => {
    const higher = {
      value: 80,
      direction: "increase",
      window: { k: 3, n: 4 },
      windowUnit: "session",
      purposes: ["probe"],
    } as const;
    const lines = goalHistory([
      version(1, "made"),
      version(2, "changed", { criterion: { ...higher, purposes: ["probe"] } }),
      version(3, "met", { criterion: { ...higher, purposes: ["probe"] } }),
    ]).map(({ said }) => said.replaceAll("\u00a0", " "));
    expect(lines).toEqual([
      "Met on Mon, Oct 12.",
      "Criterion since Mon, Oct 12: 80% in 3 of 4 sessions; before: 70% in one session.",
      "Set up: 70% in one session.",
    ]);
  });

  it("says when the measure changed", () => {
    const [last] = goalHistory([version(1, "made"), version(2, "changed", { measure: { kind: "fluency" } })]);
    expect(last?.said).toContain("Measured as fluency since Mon, Oct 12; before: trials, correct or not");
  });
});
