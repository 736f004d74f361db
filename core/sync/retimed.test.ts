import { v7 as newId } from "uuid";
import { expect, it } from "vitest";
import { queuedSchema } from "./queued.ts";
import { retimed } from "./retimed.ts";

const [studentId, goalId, sittingId] = [newId(), newId(), newId()];
const common = { format: 1, studentId, clockAhead: 5000 } as const;
const read = (item: unknown) => queuedSchema.parse(item);

it("moves what was recorded by a wrong clock as one, and what was said of days by whole days", () => {
  const entry = read({
    ...{ ...common, kind: "entry", id: newId(), goalId, sittingId, measureVersion: 1, purpose: "probe" },
    ...{ observedAt: "2025-10-24T10:00:00.000Z", startedAt: "2025-10-24T09:50:00.000Z", note: null },
    ...{ setting: null, support: null, interrupted: false, entry: { kind: "trials" } },
  });
  const watched = read({
    ...{ ...common, kind: "watched", id: newId(), period: "", state: "none" },
    ...{ observedAt: "2025-10-24T10:30:00.000Z", on: "2025-10-24" },
  });
  const closed = read({
    ...{ ...common, kind: "tally close", id: newId(), goalId, note: null, setting: null },
    ...{ observedAt: "2025-10-24T10:10:00.000Z", on: "2025-10-23" },
    ...{ seenFrom: "2025-10-23T08:00", seenTo: "2025-10-23T14:30" },
  });
  const moved = retimed([entry, watched, closed], Date.parse("2026-11-24T18:30:00.000Z"));
  expect(moved).toEqual([
    {
      ...entry,
      ...{ observedAt: "2026-11-24T18:00:00.000Z", startedAt: "2026-11-24T17:50:00.000Z" },
      ...{ clockAhead: 0, timeSaid: true },
    },
    { ...watched, observedAt: "2026-11-24T18:30:00.000Z", on: "2026-11-24", clockAhead: 0, timeSaid: true },
    {
      ...closed,
      ...{ observedAt: "2026-11-24T18:10:00.000Z", on: "2026-11-23", clockAhead: 0, timeSaid: true },
      ...{ seenFrom: "2026-11-23T08:00", seenTo: "2026-11-23T14:30" },
    },
  ]);
  // What the server reads is what was put to another time.
  expect(moved.map(read)).toEqual(moved);
});
