import { expect, it } from "vitest";
import { ownPath } from "./own-path.ts";

it("follows a path of our own after a sign-in", () => {
  expect(ownPath("/students/1/report?from=2026-09-01#goal-2")).toBe(
    "/students/1/report?from=2026-09-01#goal-2",
  );
});

// What browsers make of an address: WHATWG URL Standard, 4.4 (tabs and line breaks are removed, a backslash is a slash).
it.each([
  ...["//evil.example", "/\\evil.example", "/\t/evil.example", "/\n/evil.example", "/\r\\evil.example"],
  ...["/./\t/evil.example", "/.//evil.example", "https://evil.example", "javascript:alert(1)", "evil", ""],
  ...["/sign-out", "/sign-in?to=/sign-out", null, undefined],
])("leads to the caseload and not to %j", (to) => {
  expect(ownPath(to)).toBe("/caseload");
});
