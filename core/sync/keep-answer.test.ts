import fc from "fast-check";
import { expect, it } from "vitest";
import * as z from "zod";
import { readKeepAnswer } from "./keep-answer.ts";

const schema = z.discriminatedUnion("outcome", [
  z.object({ outcome: z.enum(["saved", "already"]) }),
  z.object({
    outcome: z.literal("refused"),
    why: z.string(),
    asks: z.optional(z.literal("when")).catch(undefined),
  }),
  z.object({ outcome: z.literal("not allowed") }),
]);

it("reads an answer as its schema says, and nothing else", () => {
  const outcome = fc.constantFrom<unknown>(
    "saved",
    "already",
    "refused",
    "not allowed",
    "queued",
    "",
    null,
    1,
    ["saved"],
  );
  const answers = fc.oneof(
    fc.record(
      {
        ...{ outcome, why: fc.oneof(fc.string(), fc.jsonValue()), more: fc.jsonValue() },
        asks: fc.oneof(fc.constant("when"), fc.jsonValue()),
      },
      { requiredKeys: [] },
    ),
    fc.jsonValue(),
  );
  fc.assert(
    fc.property(answers, (body) => {
      expect(readKeepAnswer(body)).toEqual(schema.safeParse(body).data ?? null);
    }),
    { numRuns: 2000 },
  );
});
