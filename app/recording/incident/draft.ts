import { v7 as newId } from "uuid";
import { emptyChosen, emptyDetails } from "#core/incidents/blank.ts";
import type { IncidentDraft } from "#core/sync/kept.ts";
import { type Device, holderOf, onDisk } from "../device/device.ts";
import { write } from "../device/disk.ts";
import { draftPlace } from "../device/places.ts";
import { sealAs, unsealAs } from "../device/seal.ts";
import type { Queued } from "#core/sync/queued.ts";

export type IncidentItem = Extract<Queued, { kind: "incident" }>;

/** What an incident is while it is being written. */
export type IncidentFacts = Omit<IncidentDraft, "incidentId" | "studentId">;
export type DraftTime = IncidentFacts["began"];

export const newDraft = (studentId: string | null, now: number): IncidentDraft => ({
  incidentId: newId(),
  studentId,
  began: { as: "moment", at: now },
  clock: null,
  chosen: emptyChosen(),
  details: emptyDetails,
  note: "",
});

/** Another one like it: what was so stays, what happened to be so (its time, length, strength, note) does not. */
export const likeDraft = (before: IncidentDraft, now: number): IncidentDraft => ({
  ...newDraft(before.studentId, now),
  chosen: before.chosen,
  details: { ...emptyDetails, functions: before.details.functions },
});

export const isBlank = ({ chosen, note, clock }: IncidentFacts): boolean =>
  clock === null && note.trim() === "" && Object.values(chosen).every((list) => list.length === 0);

export async function readIncidentDraft(device: Device): Promise<IncidentDraft | null> {
  const { key, personId } = device;
  const kept = await onDisk(device, (disk) => disk.get("packs", draftPlace(personId, "incident"))).catch(
    () => null,
  );
  return kept ? unsealAs("incident", key, kept) : null;
}

/** Writes the draft to the device's disk; an empty draft is deleted from it. */
export async function keepIncidentDraft(device: Device, draft: IncidentDraft | null): Promise<void> {
  const { key, personId } = device;
  const kept = draft && !isBlank(draft) ? await sealAs("incident", key, draft) : null;
  await onDisk(device, (disk) =>
    write(disk, ["packs"], (trx) => [
      kept
        ? trx.objectStore("packs").put(kept, draftPlace(personId, "incident"))
        : trx.objectStore("packs").delete(draftPlace(personId, "incident")),
    ]),
  );
}

const minute = 60_000;

/** The incident as it goes to the server. A clock that still runs says that it is still going on. */
export function itemOfDraft(device: Device, draft: IncidentDraft, now: number): IncidentItem | null {
  const { studentId, clock, chosen, details, note } = draft;
  if (studentId === null || chosen.behavior.length === 0) return null;
  const began = clock ? { as: "moment" as const, at: clock.startedAt } : draft.began;
  const holder = holderOf(device);
  return {
    format: 1,
    kind: "incident",
    id: draft.incidentId,
    studentId,
    observedAt: new Date(began.as === "moment" ? began.at : now).toISOString(),
    clockAhead: device.kept.clockAhead,
    ...(holder ? { observer: { personId: holder.personId, handoverId: holder.handoverId } } : {}),
    began: began.as === "moment" ? { as: "moment" } : began,
    chosen,
    details: {
      ...details,
      length:
        clock && clock.stoppedAt !== null
          ? { minutes: Math.round(((clock.stoppedAt - clock.startedAt) / minute) * 10) / 10 }
          : details.length,
      resolvedMinutes: details.resolved ? details.resolvedMinutes : null,
    },
    ongoing: clock !== null && clock.stoppedAt === null,
    note: note.trim() || null,
  };
}
