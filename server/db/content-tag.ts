import { createHash } from "node:crypto";

/** A tag of the content: it tells whether a page still shows what is stored. */
export function contentTag(content: unknown): string {
  return createHash("sha256").update(JSON.stringify(content)).digest("base64url").slice(0, 22);
}
