import { useState } from "react";
import { openDevice } from "#app/recording/device/device.ts";
import { enqueue } from "#app/recording/device/queue.ts";
import { JotPictures, type PictureDraft } from "#app/recording/jot/pictures.tsx";
import type { JotPicture } from "#core/model/jot.ts";

/** Pictures that were added and not saved yet: their bytes, by number. They go to the queue once the jot names them. */
const added = new Map<string, string>();

/** The pictures as they were typed before an error; those that stand where nothing was. */
function picturesFrom(typed: string | undefined, stand: readonly JotPicture[]): PictureDraft[] {
  const standing = stand.map(({ pictureId, caption }) => ({ pictureId, caption, data: "" }));
  try {
    const read: unknown = typed === undefined ? null : JSON.parse(typed);
    if (!Array.isArray(read)) return standing;
    return (read as PictureDraft[]).map(({ pictureId, caption }) => ({
      ...{ pictureId, caption, data: added.get(pictureId) ?? "" },
    }));
  } catch {
    return standing;
  }
}

/** The pictures of a jot that is corrected. */
export function WrittenPictures({
  studentId,
  pictures: stand,
  typed,
  problem,
}: {
  studentId: string;
  pictures: readonly JotPicture[];
  typed: string | undefined;
  problem: string | null;
}) {
  const [pictures, setPictures] = useState(() => picturesFrom(typed, stand));
  return (
    <div data-own-draft>
      <input
        type="hidden"
        name="pictures"
        value={JSON.stringify(pictures.map(({ pictureId, caption }) => ({ pictureId, caption })))}
      />
      <JotPictures
        pictures={pictures}
        placeOf={(pictureId) => `/students/${studentId}/pictures/${pictureId}`}
        problem={problem}
        onChange={(next) => {
          for (const { pictureId, data } of next) if (data !== "") added.set(pictureId, data);
          setPictures(next);
        }}
      />
    </div>
  );
}

/** Puts the pictures that were added into this device's queue as soon as the correction that names them is saved. */
export async function sendAddedPictures<T>(
  { studentId, jotId }: { studentId: string; jotId: string },
  form: Promise<FormData>,
  save: () => Promise<T>,
): Promise<T> {
  const named = (await form).get("pictures");
  const fresh = [...added].filter(([pictureId]) => typeof named === "string" && named.includes(pictureId));
  const send = async () => {
    const { device } = fresh.length > 0 ? await openDevice(() => undefined) : { device: null };
    if (!device) return;
    await enqueue(
      device,
      fresh.map(([id, data]) => ({
        ...{ format: 1, kind: "picture", id, studentId, jotId, data },
        ...{ observedAt: new Date().toISOString(), clockAhead: device.kept.clockAhead },
      })),
    );
    for (const [id] of fresh) added.delete(id);
  };
  try {
    return await save();
  } catch (thrown) {
    if (thrown instanceof Response && thrown.headers.get("Location")?.includes("/jots/")) await send();
    throw thrown;
  }
}
