import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller } from "#tests/route.ts";
import * as compare from "./compare.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let gus: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, gus] = await Promise.all([caller(db.app, "noor"), caller(db.app, "gus")]);
});
afterAll(() => db.close());

const at = (choice: Record<string, string>) =>
  noor.load(compare.loader, {}, `?${new URLSearchParams(choice).toString()}`);

describe("two sides compared", () => {
  it("are two goals with the same height of axis where they have one unit", async () => {
    const { sides, sentence } = await at({ a: demo.goal("Wren", "2b"), b: demo.goal("Priya", "1") });
    expect(sides.map((side) => side?.student)).toEqual(["Wren Abara", "Priya Nandakumar"]);
    expect(sides[0]?.chart?.axis).toEqual(sides[1]?.chart?.axis);
    // Each by its own change, never one against the other.
    expect(sentence).toMatch(/^“[^”]+”: \d+% → \d+%, \S+ points? \(.*\)\. “[^”]+”: \d+% → \d+%, /);
    expect(sentence).not.toContain("comparisons");
    const units = await at({ a: demo.goal("Wren", "2b"), b: demo.goal("Anselm", "3") });
    expect(units.sentence).toMatch(
      /“Two-digit subtraction”: \d+% → .*“Reads a grade passage aloud”: \d+\sa\sminute → /,
    );
  });

  it("are two stretches of one goal, in pairs where one follows the other", async () => {
    const goalId = demo.goal("Wren", "2b");
    const whole = await at({ a: goalId, b: goalId });
    const [phases] = whole.sides.map((side) => side?.phases ?? []);
    const key = (name: string) => phases?.find((phase) => phase.name === name)?.key ?? "";
    const { sides, sentence } = await at({
      ...{ a: goalId, b: goalId },
      ...{ "a-span": key("counting blocks"), "b-span": key("place-value mat") },
    });
    expect(sides.map((side) => side?.points.length)).not.toContain(whole.sides[0]?.points.length);
    expect(sentence).toMatch(/: \+\d+ points; later points beat earlier points in \d+% of \d+ comparisons/);
    // The other way round nothing follows, and no pair is said.
    const turned = await at({
      ...{ a: goalId, b: goalId },
      ...{ "a-span": key("place-value mat"), "b-span": key("counting blocks") },
    });
    expect(turned.sentence).toMatch(/: −\d+ points\.$/);
    const weeks = await at({ a: goalId, b: goalId, "b-span": "28" });
    expect(weeks.sides[1]?.points.length).toBeLessThan(weeks.sides[0]?.points.length ?? 0);
  });

  it("are of the person's own circles only, and nothing of an address that does not fit", async () => {
    const wrens = { a: demo.goal("Wren", "2b"), b: "no id" };
    const answer = await gus.load(compare.loader, {}, `?${new URLSearchParams(wrens).toString()}`);
    expect(answer.sides).toEqual([null, null]);
    expect(JSON.stringify(answer.offered)).not.toContain("Wren");
    const { sides } = await at({ a: demo.goal("Wren", "2b"), "a-span": "none", "a-setting": "the moon" });
    expect(sides[0]).toMatchObject({ span: "", setting: "" });
    expect(sides[1]).toBeNull();
  });
});
