/** What stands on the disk of a device: unreadable without its person's key. */
export interface Sealed {
  iv: Uint8Array<ArrayBuffer>;
  bytes: ArrayBuffer;
}

/** The key as a thing the browser uses and never shows again. */
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
