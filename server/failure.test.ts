import { describe, expect, it } from "vitest";
import { isUnavailable, loggableError, loggedPath } from "./failure.ts";

describe("what is logged", () => {
  it("has neither ids nor queries nor anything a person typed", () => {
    expect(loggedPath("/students/019a0000-0000-7000-8000-000000000001/report?to=Wren")).toBe(
      "/students/:id/report",
    );
    expect(loggedPath("/find/Wren Abara/<x>")).not.toMatch(/[ <>]/);
    const error = Object.assign(new Error('duplicate key: (email)=("wren@home.example")'), {
      code: "23505",
      constraint: "accounts_email_key",
      detail: "Key (email)=(wren@home.example)",
    });
    expect(JSON.stringify(loggableError(error))).not.toMatch(/wren/);
    expect(loggableError(error)).toMatchObject({
      name: "Error",
      code: "23505",
      constraint: "accounts_email_key",
    });
    expect(loggableError(null)).toMatchObject({ at: [] });
  });
});

describe("a failure", () => {
  it("knows a database that is away for now from one that refuses", () => {
    expect(["57P01", "57P03", "08006", "53300"].every((code) => isUnavailable({ code }))).toBe(true);
    expect(isUnavailable({ code: "23505" })).toBe(false);
    expect(isUnavailable(new Error("Connection terminated unexpectedly"))).toBe(true);
  });
});
