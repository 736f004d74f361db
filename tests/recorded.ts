import { v7 as newId } from "uuid";
import { emptyChosen, emptyDetails } from "#core/incidents/blank.ts";
import type { ChosenChoices } from "#core/model/incident-content.ts";
import type { Queued } from "#core/sync/queued.ts";
import type { DemoIds } from "./demo-school.ts";
import type { Visitor } from "./session.ts";
import { daysAgo } from "./clock.ts";

type IncidentItem = Extract<Queued, { kind: "incident" }>;
type EntryItem = Extract<Queued, { kind: "entry" }>;

/** Posts JSON as a device does. */
export const send = (who: Visitor, path: string, body: unknown): Promise<Response> =>
  who.get(path, {
    method: "POST",
    body: JSON.stringify(body),
    headers: { "Content-Type": "application/json", Origin: who.origin },
  });

/** What the server says of one item of a device's queue. */
export const keep = async (who: Visitor, item: unknown): Promise<unknown> =>
  (await send(who, "/recording/keep", item)).json();

const yesterday = daysAgo(1);

/** A choice of a student, made by the device that first names it. */
export const choice = (name: string) => ({ choiceId: newId(), name });

/** An incident of Wren's as a device tells of it: yesterday at 15:02 Greenwich time, which the school has as morning. */
export function incidentItem(
  demo: DemoIds,
  change: Partial<Omit<IncidentItem, "chosen">> & { chosen?: Partial<ChosenChoices> } = {},
): IncidentItem {
  const { chosen, ...rest } = change;
  return {
    format: 1,
    kind: "incident",
    id: newId(),
    studentId: demo.student("Wren"),
    observedAt: `${yesterday}T15:02:11.000Z`,
    clockAhead: 0,
    began: { as: "moment" },
    details: emptyDetails,
    ongoing: false,
    note: null,
    ...rest,
    chosen: { ...emptyChosen(), behavior: [choice("shouting")], ...chosen },
  };
}

/** What a device recorded of Wren's trials yesterday morning. */
export function recordedItem(demo: DemoIds, change: Partial<EntryItem> = {}): EntryItem {
  return {
    format: 1,
    kind: "entry",
    id: newId(),
    sittingId: newId(),
    startedAt: `${yesterday}T15:00:00.000Z`,
    studentId: demo.student("Wren"),
    goalId: demo.goal("Wren", "2b"),
    observedAt: `${yesterday}T15:02:11.000Z`,
    clockAhead: 0,
    note: null,
    measureVersion: 1,
    purpose: "probe",
    setting: null,
    support: null,
    interrupted: false,
    entry: { kind: "trials", correct: 2, attempted: 3, sequence: "101" },
    ...change,
  };
}
