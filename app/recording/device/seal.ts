import { formats, type KeptKind, upgradedKind } from "#core/sync/formats.ts";
import type { IncidentDraft, JotDraft, OpenTally, Sheet, Sitting } from "#core/sync/kept.ts";
import type { KeptPack } from "#core/sync/pack.ts";
import type { Queued } from "#core/sync/queued.ts";

/** What stands on the disk of a device: unreadable without its person's key. */
export interface Sealed {
  iv: Uint8Array<ArrayBuffer>;
  bytes: ArrayBuffer;
}

/** Imports the key so that it can be used and not read out. */
export function importKey(base64: string): Promise<CryptoKey> {
  const raw = Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
  return crypto.subtle.importKey("raw", raw, "AES-GCM", false, ["encrypt", "decrypt"]);
}

export async function seal(key: CryptoKey, value: unknown): Promise<Sealed> {
  const iv = crypto.getRandomValues(new Uint8Array(12));
  const bytes = await crypto.subtle.encrypt(
    { name: "AES-GCM", iv },
    key,
    new TextEncoder().encode(JSON.stringify(value)),
  );
  return { iv, bytes };
}

/** Null where the key is another one: what was sealed with it cannot be read here. */
export async function unseal<T>(key: CryptoKey, { iv, bytes }: Sealed): Promise<T | null> {
  try {
    const plain = await crypto.subtle.decrypt({ name: "AES-GCM", iv }, key, bytes);
    return JSON.parse(new TextDecoder().decode(plain)) as T;
  } catch {
    return null;
  }
}

/** What is sealed, with the number of its format beside it: whether it can be read is known before it is opened. */
export interface Kept {
  format: number;
  sealed: Sealed;
}

interface KeptContent {
  item: Queued;
  sitting: Sitting;
  sheet: Sheet;
  pack: KeptPack;
  tallies: readonly OpenTally[];
  incident: IncidentDraft;
  jot: JotDraft;
}

/** Seals one of the things that a device keeps, in the format of today. */
export async function sealAs<Kind extends KeptKind>(
  kind: Kind,
  key: CryptoKey,
  content: KeptContent[Kind],
): Promise<Kept> {
  return { format: formats[kind], sealed: await seal(key, content) };
}

/**
 * Opens one of them, in the shape of today whatever format it was kept in. Null where the key is another one, or a newer program kept
 * it; it stays on the disk. The schemas of `core/sync` are read by the server and the tests and not here: sealed content is this
 * program's own, and the schemas would make the recording page heavier by 9.7 kB of 44.3 kB (measured, gzipped).
 */
export async function unsealAs<Kind extends KeptKind>(
  kind: Kind,
  key: CryptoKey,
  { format, sealed }: Kept,
): Promise<KeptContent[Kind] | null> {
  const content = upgradedKind(kind, format, await unseal<unknown>(key, sealed));
  return (content ?? null) as KeptContent[Kind] | null;
}
