import { expect, it } from "vitest";
import { byRater } from "./by-rater.ts";

it("raters are kept apart, each with the mean of their own sessions", () => {
  const given = (rater: string, value: number | null) => ({ rater, value });
  expect(
    byRater([
      given("N. Halloran", 50),
      given("P. Ruiz", 75),
      given("N. Halloran", 60),
      given("P. Ruiz", null),
    ]),
  ).toEqual([
    { rater: "N. Halloran", n: 2, mean: 55, last: 60 },
    { rater: "P. Ruiz", n: 1, mean: 75, last: 75 },
  ]);
  // One rater alone has nobody to be kept apart from.
  expect(byRater([given("N. Halloran", 50), given("N. Halloran", 60)])).toEqual([]);
  expect(byRater([])).toEqual([]);
});
