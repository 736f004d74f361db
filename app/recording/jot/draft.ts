import { v7 as newId } from "uuid";
import { isWebAddress } from "#core/model/jot-rules.ts";
import type { JotDraft } from "#core/sync/kept.ts";
import type { Queued } from "#core/sync/queued.ts";
import { type Device, holderOf, onDisk } from "../device/device.ts";
import { write } from "../device/disk.ts";
import { draftPlace } from "../device/places.ts";
import { sealAs, unsealAs } from "../device/seal.ts";

export type JotItem = Extract<Queued, { kind: "jot" }>;
type PictureItem = Extract<Queued, { kind: "picture" }>;

export const newJot = (studentId: string | null, now: number): JotDraft => ({
  ...{ jotId: newId(), studentId, began: { as: "moment", at: now } },
  ...{ categoryId: null, levelId: null, note: "", link: { url: "", words: "" }, pictures: [] },
  ...{ own: false, teamOnly: false },
});

/** Another one about the same category: what was written of the last stays with it. */
export const likeJot = ({ studentId, categoryId }: JotDraft, now: number): JotDraft => ({
  ...newJot(studentId, now),
  categoryId,
});

export const isBlankJot = ({ note, levelId, link, pictures }: JotDraft): boolean =>
  note.trim() === "" && levelId === null && link.url.trim() === "" && pictures.length === 0;

export async function readJotDraft(device: Device): Promise<JotDraft | null> {
  const { key, personId } = device;
  const left = await onDisk(device, (disk) => disk.get("packs", draftPlace(personId, "jot"))).catch(
    () => null,
  );
  return left ? unsealAs("jot", key, left) : null;
}

/** Writes the draft to the device's disk; an empty draft is deleted from it. */
export async function writeJotDraft(device: Device, draft: JotDraft): Promise<void> {
  const { key, personId } = device;
  const sealed = isBlankJot(draft) ? null : await sealAs("jot", key, draft);
  await onDisk(device, (disk) =>
    write(disk, ["packs"], (trx) => [
      sealed
        ? trx.objectStore("packs").put(sealed, draftPlace(personId, "jot"))
        : trx.objectStore("packs").delete(draftPlace(personId, "jot")),
    ]),
  );
}

/** What is missing before a jot can be saved, and where; null where nothing is. */
export function jotProblem(draft: JotDraft): { field: "note" | "link" | "pictures"; message: string } | null {
  if (isBlankJot(draft))
    return { field: "note", message: "Write something, choose a level, or add a picture or a link." };
  const { link, pictures } = draft;
  if (pictures.some(({ caption }) => caption.trim() === ""))
    return { field: "pictures", message: "Say in a few words what each picture shows." };
  if (link.url.trim() !== "" && !isWebAddress(link.url.trim()))
    return { field: "link", message: "Write the whole address, beginning with https://." };
  return null;
}

/** The jot and its pictures as they go to the server, the jot first. */
export function itemsOfJot(device: Device, draft: JotDraft, now: number): [JotItem, ...PictureItem[]] | null {
  const { studentId, began, link, pictures } = draft;
  if (studentId === null || jotProblem(draft) !== null) return null;
  const holder = holderOf(device);
  const common = {
    ...{ format: 1 as const, studentId, clockAhead: device.kept.clockAhead },
    observedAt: new Date(began.as === "moment" ? began.at : now).toISOString(),
    ...(holder ? { observer: { personId: holder.personId, handoverId: holder.handoverId } } : {}),
  };
  return [
    {
      ...{ ...common, kind: "jot", id: draft.jotId, categoryId: draft.categoryId },
      began: began.as === "moment" ? { as: "moment" } : began,
      details: {
        levelId: draft.levelId,
        link: link.url.trim() === "" ? null : { url: link.url.trim(), words: link.words.trim() },
        pictures: pictures.map(({ pictureId, caption }) => ({ pictureId, caption: caption.trim() })),
      },
      note: draft.note.trim() || null,
      ...{ own: draft.own && draft.levelId !== null, teamOnly: draft.teamOnly },
    },
    ...pictures.map(({ pictureId, data }): PictureItem => ({
      ...{ ...common, kind: "picture", id: pictureId, jotId: draft.jotId, data },
    })),
  ];
}
