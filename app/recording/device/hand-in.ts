import type { HandInAnswer } from "#core/sync/keep-answer.ts";
import { type OpenDisk, write } from "./disk.ts";
import { post, withField } from "./post.ts";

// Loaded only where something of somebody waits who is not signed in here.

const base64 = (bytes: Uint8Array) => btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(""));

/**
 * Hands in what people recorded here who have left the school since: they can sign in no more, so it goes as it lies here, sealed with the
 * device's key, and waits for the leads. Of people who can still sign in the server takes nothing so, and nothing is deleted here.
 *
 * @param signedIn who is signed in here, if anybody: what is theirs goes its usual way
 */
export async function handIn(disk: OpenDisk, signedIn: string | null): Promise<void> {
  const deviceId = await disk.get("meta", "device");
  const [places, rows] = await Promise.all([disk.getAllKeys("queue"), disk.getAll("queue")]);
  const here = new Set([signedIn]);
  for (const [at, { personId, sealed }] of rows.entries()) {
    const place = places[at];
    if (here.has(personId) || place === undefined) continue;
    const answer = await post(
      "/recording/hand-in",
      { personId, deviceId, iv: base64(sealed.iv), bytes: base64(new Uint8Array(sealed.bytes)) },
      withField<HandInAnswer>("outcome"),
    );
    if (answer.kind !== "said") return;
    if (answer.body.outcome === "unknown") here.add(personId);
    if (answer.body.outcome === "held")
      await write(disk, ["queue"], (trx) => [trx.objectStore("queue").delete(place)]);
  }
}
