import { cleanJson, cleanText } from "./clean.ts";
import type { Refusal } from "./guard.ts";

const unreadable: Refusal = {
  status: 400,
  text: "What was sent could not be read. Please go back, reload the page and send it again.",
};
const otherKind: Refusal = {
  status: 415,
  text: "This address takes forms, or JSON where a device sends it.",
};

/** What devices and passkeys send is JSON, and comes to these addresses; everything else is a form. */
const takesJson = (url: string): boolean => {
  const { pathname } = new URL(url);
  return pathname.startsWith("/recording/") || pathname === "/passkeys";
};

/** A form's fields with clean texts. Files pass as they are. */
function cleanForm(form: FormData): FormData {
  const clean = new FormData();
  for (const [name, value] of form)
    if (typeof value === "string") clean.append(cleanText(name), cleanText(value));
    else clean.append(cleanText(name), value);
  return clean;
}

const reads: Record<string, (request: Request) => Promise<{ body: BodyInit; type: string | null }>> = {
  "application/x-www-form-urlencoded": async (request) => {
    const fields = [...new URLSearchParams(await request.text())];
    const clean = fields.map(([name, value]) => [cleanText(name), cleanText(value)]);
    return {
      body: new URLSearchParams(clean).toString(),
      type: "application/x-www-form-urlencoded;charset=UTF-8",
    };
  },
  "multipart/form-data": async (request) => ({ body: cleanForm(await request.formData()), type: null }),
  "application/json": async (request) => ({
    body: JSON.stringify(cleanJson(await request.json())),
    type: "application/json",
  }),
};

/**
 * The request with a body that every action can read: of a kind that is expected here, well formed, and with nothing in its texts that
 * the database cannot keep. Anything else is refused here, once for all actions.
 */
export async function readBody(request: Request): Promise<Request | Refusal> {
  if (request.method !== "POST") return request;
  const kind = (request.headers.get("Content-Type") ?? "").split(";")[0]?.trim().toLowerCase() ?? "";
  // A form without fields, as of a button alone, may come without a kind.
  if (kind === "" && request.headers.get("Content-Length") === "0")
    return new Request(request.url, {
      ...{ method: "POST", signal: request.signal, body: new URLSearchParams() },
      headers: withType(request.headers, "application/x-www-form-urlencoded;charset=UTF-8"),
    });
  const read = Object.hasOwn(reads, kind) ? reads[kind] : undefined;
  if (!read || (kind === "application/json") !== takesJson(request.url)) return otherKind;
  try {
    const { body, type } = await read(request);
    const headers = withType(request.headers, type);
    return new Request(request.url, { method: "POST", signal: request.signal, headers, body });
  } catch {
    if (request.signal.aborted) throw request.signal.reason;
    return unreadable;
  }
}

/** Headers with the kind and without the length of what was sent: both are those of the new body. */
function withType(headers: Headers, type: string | null): Headers {
  const changed = new Headers(headers);
  changed.delete("Content-Length");
  changed.delete("Content-Type");
  if (type) changed.set("Content-Type", type);
  return changed;
}
