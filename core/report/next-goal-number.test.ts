import { expect, it } from "vitest";
import { measures } from "#demo/measures.ts";
import { plannedOpportunities } from "../measures/planned-opportunities.ts";
import { nextGoalNumber } from "./next-goal-number.ts";

it("the next number follows the highest, letters or not", () => {
  expect(nextGoalNumber(["1", "2b", "2a"])).toBe("3");
  expect(nextGoalNumber(new Set(["x", "10"]))).toBe("11");
  expect(nextGoalNumber([])).toBe("1");
});

it("opportunities are what was planned, or the parts that a measure names", () => {
  expect(plannedOpportunities(measures.breakCard)).toBe(5);
  expect(plannedOpportunities({ ...measures.packingABag, steps: ["a", "b"] })).toBe(2);
  expect(
    plannedOpportunities({
      kind: "rubric",
      criteria: [
        { id: "a", max: 4 },
        { id: "b", max: 3 },
      ],
    }),
  ).toBe(7);
  expect(plannedOpportunities({ kind: "trials" })).toBe(0);
  expect(plannedOpportunities({ kind: "count", per: "observation" })).toBe(0);
});
