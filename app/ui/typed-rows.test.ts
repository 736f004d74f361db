import fc from "fast-check";
import * as z from "zod/mini";
import { describe, expect, it } from "vitest";
import { dayTicks, readRows, rowName, rowsIn, tickedDays } from "./typed-rows.ts";

const schema = z.object({
  name: z.string().check(z.minLength(1, "Give it a name.")),
  from: z.string().check(z.regex(/^\d+$/, "A number.")),
});

describe("rows of a form", () => {
  it("come in the order of their places, whatever the order of the fields, and only those of their prefix", () => {
    const typed = {
      "spans.10.name": "last",
      "spans.2.from": "2",
      "other.0.name": "not mine",
      "spans.2.name": "first",
      "spans.x.name": "no place",
      "spans.3": "no field",
    };
    expect(rowsIn(typed, "spans")).toEqual([
      { index: 2, row: { from: "2", name: "first" } },
      { index: 10, row: { name: "last" } },
    ]);
  });

  it("that hold no text are none, though days are ticked; problems stand at the place the row will have", () => {
    const typed = {
      "spans.0.name": " ",
      "spans.0.from": "",
      "spans.0.day1": "on",
      "spans.4.name": "good",
      "spans.4.from": "4",
      "spans.7.name": "",
      "spans.7.from": "x",
    };
    expect(readRows(typed, "spans", schema)).toEqual({
      values: [{ place: 1, value: { name: "good", from: "4" } }],
      problems: { "spans.2.name": "Give it a name.", "spans.2.from": "A number." },
    });
  });

  it("keep their ticks there and back", () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 7 })), (days) => {
        expect(tickedDays(dayTicks(days))).toEqual([...days].sort());
      }),
    );
    expect(rowName("spans", 3, "name")).toBe("spans.3.name");
  });
});
