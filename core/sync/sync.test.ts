import { v5 } from "uuid";
import { describe, expect, it } from "vitest";
import { readDeviceSample, readJotSample } from "#tests/device-sample.ts";
import { formats, type KeptKind, upgraded, upgradedKind } from "./formats.ts";
import { incidentDraftSchema, jotDraftSchema, sheetSchema, sittingSchema, talliesSchema } from "./kept.ts";
import { keptPackSchema } from "./pack.ts";
import { queuedSchema, readQueued } from "./queued.ts";

const sample = readDeviceSample((name) => v5(name, v5.URL));
const jots = readJotSample((name) => v5(name, v5.URL));
const schemas = {
  item: queuedSchema,
  sitting: sittingSchema,
  sheet: sheetSchema,
  pack: keptPackSchema,
  tallies: talliesSchema,
  incident: incidentDraftSchema,
  jot: jotDraftSchema,
};

describe("what a device of the first version kept", () => {
  const kept: [KeptKind, unknown][] = [
    ["pack", sample.packs[""]],
    ["incident", sample.packs["incident"]],
    ["tallies", sample.packs["tallies"]],
    ...sample.sittings.map((sitting): [KeptKind, unknown] => ["sitting", sitting]),
    ...sample.sheets.map((sheet): [KeptKind, unknown] => ["sheet", sheet]),
    ["jot", jots.draft],
    ...jots.queue.map((item): [KeptKind, unknown] => ["item", item]),
    ...sample.queue.map((item): [KeptKind, unknown] => ["item", item]),
  ];

  it("is of every kind", () => {
    expect(new Set(kept.map(([kind]) => kind))).toEqual(new Set(Object.keys(formats)));
  });

  it.each(kept)("is read in the shape of today: %s", (kind, content) => {
    const today = upgradedKind(kind, 1, content);
    const read = schemas[kind].safeParse(today);
    expect(read.error?.issues ?? []).toEqual([]);
    expect(read.data).toEqual(today);
  });
});

describe("formats", () => {
  const steps = { 1: (one: unknown) => ({ ...(one as object), two: true }), 2: (one: unknown) => [one] };

  it("are brought up step by step", () => {
    expect(upgraded({ a: 1 }, 1, 3, steps)).toEqual([{ a: 1, two: true }]);
    expect(upgraded({ a: 1 }, 2, 3, steps)).toEqual([{ a: 1 }]);
    expect(upgraded({ a: 1 }, 3, 3, steps)).toEqual({ a: 1 });
  });

  it("that are newer than this program, or whose step is gone, are not read", () => {
    expect(upgraded({}, 4, 3, steps)).toBeUndefined();
    expect(upgraded({}, 1, 3, { 2: steps[2] })).toBeUndefined();
    for (const kind of Object.keys(formats) as KeptKind[])
      expect(upgradedKind(kind, formats[kind] + 1, {})).toBeUndefined();
  });

  it("of what is sent are read by the server, and nothing else is", () => {
    const [item] = sample.queue;
    expect(readQueued(item)).toEqual(item);
    for (const other of [
      { ...item, format: formats.item + 1 },
      { ...item, format: "1" },
      { id: 3 },
      null,
      [],
    ])
      expect(readQueued(other)).toBeNull();
  });
});
