import { expect, it } from "vitest";
import { isQuiet } from "./quiet.ts";

it("a goal is quiet after more than two weeks, and before its first measurement", () => {
  expect(isQuiet("2026-11-10", "2026-11-24")).toBe(false);
  expect(isQuiet("2026-11-09", "2026-11-24")).toBe(true);
  expect(isQuiet(null, "2026-11-24")).toBe(true);
});
