import { describe, expect, it } from "vitest";
import { type Measure, readEntry } from "#core/measures/measure.ts";
import { observedFrom } from "#core/measures/observed-from.ts";
import { measures } from "#demo/measures.ts";
import { observed } from "#demo/observed.ts";
import { seededRandom } from "#demo/random.ts";
import type { Values } from "./entry-form.ts";
import { rawEntry, valuesOf, valuesWith } from "./entry-forms.ts";

const everyKind: Measure[] = [{ kind: "trials", planned: 10 }, ...Object.values(measures)];

describe("an entry and its form", () => {
  it.each(everyKind.map((measure) => [measure.kind, measure] as const))(
    "say the same of %s, there and back, whatever was observed",
    (_, measure) => {
      const random = seededRandom(3);
      for (let count = 0; count < 40; count += 1) {
        const entry = observed(measure, 20 + 60 * random(), random);
        const read = readEntry(measure, entry);
        if (!read.ok) throw new Error(JSON.stringify(read.problems));
        const raw = rawEntry(measure, valuesOf(measure, read.entry));
        const again = raw.ok ? readEntry(measure, raw.raw) : raw;
        // The order of trials is not typed back; what was scored is.
        expect(again.ok && again.score).toEqual(read.score);
        if (measure.kind !== "trials") expect(again.ok && again.entry).toEqual(read.entry);
      }
    },
  );

  it("take nothing for zero: what was not marked is asked for or left out", () => {
    for (const measure of everyKind) {
      const raw = rawEntry(measure, {});
      const read = raw.ok ? readEntry(measure, raw.raw) : raw;
      expect([measure.kind, read.ok]).toEqual([measure.kind, false]);
    }
    expect(rawEntry({ kind: "duration", report: "total" }, { none: "yes" })).toMatchObject({ ok: true });
    expect(rawEntry({ kind: "duration", report: "total" }, { bouts: "90" })).toMatchObject({
      ok: false,
      problems: [{ field: "boutsSeconds" }],
    });
  });

  it("hold what a panel counted on top of what was typed", () => {
    const counted = (
      measure: Measure,
      typed: Values,
      marks: readonly [on: string, value: string, at: number][],
    ) =>
      valuesWith(
        measure,
        typed,
        observedFrom(
          measure,
          marks.map(([on, value, at]) => ({ on, value, at: at * 1000 })),
          100_000,
        ),
      );
    const calls: Measure = { kind: "count", per: "observation" };
    const presses = [
      ["press", "", 1],
      ["press", "", 2],
    ] as const;
    expect(
      counted(
        calls,
        { count: "5", observed: "10 min" },
        [...presses].map((one) => [...one]),
      ),
    ).toMatchObject({
      count: "7",
      observed: "10:00",
    });
    // What cannot be read stays as it was typed.
    expect(counted(calls, { count: "many" }, [["press", "", 1]])).toBeNull();
    expect(counted(calls, {}, [])).toBeNull();
    expect(
      counted({ kind: "duration", report: "total" }, { bouts: "4:10" }, [
        ["bout", "start", 40],
        ["bout", "stop", 85],
        ["bout", "start", 90],
      ]),
    ).toMatchObject({ bouts: "4:10, 0:45, 0:10" });
    expect(
      counted({ kind: "latency", report: "mean" }, { delays: "12 s", noResponse: "1" }, [
        ["signal", "", 1],
        ["response", "", 8],
        ["no response", "", 9],
      ]),
    ).toMatchObject({ delays: "0:12, 0:07", noResponse: "2" });
    const levels = measures.breakCard;
    const typed = counted(levels, { "count.0": "2" }, [["level", "0", 1]]);
    expect(typed).toMatchObject({ "count.0": "3", "count.1": "0" });
    // The order of what was typed is not known, so none is kept.
    const mixed = rawEntry(levels, typed ?? {});
    expect(mixed.ok && mixed.raw).not.toHaveProperty("sequence");
    const marked = rawEntry(levels, counted(levels, {}, [["level", "1", 1]]) ?? {});
    expect(marked.ok && marked.raw).toHaveProperty("sequence");
  });
});
