import { data, redirect } from "react-router";
import { describe, expect, it } from "vitest";
import { guarded, InputProblems, isUnavailable, loggableError, loggedPath } from "./failure.ts";

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

describe("guarded", () => {
  const thrownBy = (work: () => Promise<unknown>) =>
    guarded(work).then(
      () => null,
      (thrown: unknown) => thrown,
    );
  it("passes what is meant for the browser", async () => {
    for (const answer of [redirect("/x"), data({}, 404), new InputProblems({})])
      expect(await thrownBy(() => Promise.reject(answer as Error))).toBe(answer);
  });

  it("turns anything else into an answer with an id and nothing of the error", async () => {
    expect(await thrownBy(() => Promise.reject(new Error("secret")))).toMatchObject({
      data: { kind: "failed", id: expect.stringMatching(/^[0-9a-f]{8}$/) as string },
      init: { status: 500 },
    });
    expect(
      await thrownBy(() => Promise.reject(Object.assign(new Error("x"), { code: "ECONNREFUSED" }))),
    ).toMatchObject({ data: { kind: "unavailable" }, init: { status: 503 } });
  });

  it("knows a database that is away for now from one that refuses", () => {
    expect(["57P01", "57P03", "08006", "53300"].every((code) => isUnavailable({ code }))).toBe(true);
    expect(isUnavailable({ code: "23505" })).toBe(false);
    expect(isUnavailable(new Error("Connection terminated unexpectedly"))).toBe(true);
  });
});
