import { type KeptLock, pinRounds, pinTries, type SealedKey } from "#core/sync/device-lock.ts";
import type { UnlockAnswer } from "#app/routes/recording/unlock.ts";
import { lockAfter } from "./idle.ts";
import { lockHere, type OpenDisk, putLock, write } from "./disk.ts";
import { post, withField } from "./post.ts";

// Loaded only where a device is locked.

const ask = (body: object) => post("/recording/unlock", body, withField<UnlockAnswer>("outcome"));

/** May a locked device open without a PIN, because its person has just signed in? Tells the server of too many wrong ones first. */
export async function letIn(disk: OpenDisk, lock: KeptLock): Promise<boolean> {
  const answer = await ask(lock.over ? { over: true } : { fresh: true });
  if (lock.over ? !["said", "signed out"].includes(answer.kind) : answer.kind !== "said") return false;
  if (!lock.over && answer.kind === "said" && answer.body.outcome !== "open") return false;
  await disk.delete("meta", "lock");
  return true;
}

const bytesOf = (base64: string) => Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));

/** The device's key, where this PIN is the one it was sealed with. */
async function unsealed({ salt, iv, bytes }: SealedKey, pin: string): Promise<CryptoKey | null> {
  const { subtle } = crypto;
  const typed = await subtle.importKey("raw", new TextEncoder().encode(pin), "PBKDF2", false, ["deriveKey"]);
  const made = await subtle.deriveKey(
    { name: "PBKDF2", hash: "SHA-256", salt: bytesOf(salt), iterations: pinRounds },
    typed,
    { name: "AES-GCM", length: 256 },
    false,
    ["unwrapKey"],
  );
  return subtle
    .unwrapKey("raw", bytesOf(bytes), made, { name: "AES-GCM", iv: bytesOf(iv) }, "AES-GCM", false, [
      "encrypt",
      "decrypt",
    ])
    .catch(() => null);
}

/** What became of a PIN: the device is open, it is wrong, or only signing in opens the device. `left`: tries without a network. */
export type Unlocked =
  { outcome: "open" } | { outcome: "sign in" } | { outcome: "wrong"; left: number | null };

/** Opens a locked device by the PIN of its person, or of who has it in hand. A network is needed only for a PIN that was changed elsewhere. */
export async function unlock(disk: OpenDisk, personId: string, pin: string): Promise<Unlocked> {
  const lock = await lockHere(disk);
  if (!lock?.shut || lock.over) return { outcome: lock?.over ? "sign in" : "open" };
  const seals = [lock.sealed, lock.holder?.sealed].filter((one) => one != null);
  const found = await Promise.all(seals.map((one) => unsealed(one, pin)));
  const key = found.find((one) => one !== null);
  const handoverId = lock.holder?.handoverId ?? null;
  if (key) {
    // Sent although the page is read anew: the server, which counted wrong ones, hears of the right one.
    const right = new Blob([JSON.stringify({ pin, handoverId, wrong: 0 })], { type: "application/json" });
    if (lock.counted) navigator.sendBeacon("/recording/unlock", right);
    await write(disk, ["keys", "meta"], (trx) => [
      trx.objectStore("keys").put(key, personId),
      trx.objectStore("meta").put(JSON.stringify({ ...lock, shut: false, tries: 0, counted: false }), "lock"),
    ]);
    lockAfter(lock.minutes);
    return { outcome: "open" };
  }
  const answer = await ask({ pin, handoverId, wrong: lock.wrong });
  if (answer.kind !== "said") {
    const tries = lock.tries + 1;
    const over = tries >= pinTries;
    await putLock(disk, {
      ...lock,
      ...{ tries, wrong: Math.min(lock.wrong + 1, pinTries), over },
      ...(over ? { sealed: null, holder: null } : {}),
    });
    return over ? { outcome: "sign in" } : { outcome: "wrong", left: pinTries - tries };
  }
  if (answer.body.outcome === "wrong") {
    await putLock(disk, { ...lock, tries: 0, wrong: 0, counted: true });
    return { outcome: "wrong", left: null };
  }
  // The key comes with the pack: by a PIN that the server knows, or by signing in.
  await disk.delete("meta", "lock");
  return { outcome: answer.body.outcome === "open" ? "open" : "sign in" };
}
