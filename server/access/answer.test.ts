import { data, redirect } from "react-router";
import { describe, expect, it } from "vitest";
import { Conflict, Invalid, NotFound, Refused } from "../errors.ts";
import { guarded } from "./answer.ts";

describe("guarded", () => {
  const thrownBy = (work: () => Promise<unknown>) =>
    guarded(work).then(
      () => null,
      (thrown: unknown) => thrown,
    );
  it("passes what is meant for the browser", async () => {
    for (const answer of [redirect("/x"), data({}, 404), new Invalid({})])
      expect(await thrownBy(() => Promise.reject(answer as Error))).toBe(answer);
  });

  it("gives each domain error its answer", async () => {
    for (const [error, kind, status] of [
      [new NotFound(), "not-found", 404],
      [new Refused(), "not-allowed", 403],
      [new Conflict(), "conflict", 409],
    ] as const)
      expect(await thrownBy(() => Promise.reject(error))).toMatchObject({ data: { kind }, init: { status } });
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
});
