import { createDecipheriv } from "node:crypto";
import * as z from "zod/mini";
import { redirect } from "react-router";
import type { HandInAnswer } from "#core/sync/keep-answer.ts";
import { readQueued } from "#core/sync/queued.ts";
import { guarded } from "#server/access/answer.ts";
import { findGoneDevice } from "#server/db/devices.ts";
import { holdItemOf } from "#server/db/held-items.ts";
import { withScope } from "#server/db/school.ts";
import { id } from "#app/ui/form-data.ts";
import { observedAtOf } from "./keep-item.server.ts";
import type { Route } from "./+types/hand-in";

/** Redirects: this address has no page. */
export function loader() {
  return redirect("/record");
}

const base64 = (most: number) => z.string().check(z.maxLength(most), z.regex(/^[A-Za-z0-9+/]+={0,2}$/));
const asked = z.object({
  ...{ personId: id, deviceId: id },
  /** An item as the device has it sealed. A picture is the largest. */
  iv: base64(16),
  bytes: base64(2_000_000),
});

/** What a device sealed with its key, AES-256-GCM with the tag at the end; null where it was another key. */
function unsealed(key: Buffer, iv: string, bytes: string): unknown {
  const sealed = Buffer.from(bytes, "base64");
  if (sealed.length < 17) return null;
  const open = createDecipheriv("aes-256-gcm", key, Buffer.from(iv, "base64"));
  open.setAuthTag(sealed.subarray(-16));
  try {
    return JSON.parse(Buffer.concat([open.update(sealed.subarray(0, -16)), open.final()]).toString("utf8"));
  } catch {
    return null;
  }
}

/**
 * Takes what somebody recorded on a device before they left the school, and could not send any more. They have no session: that it comes
 * from their device is shown by the key with which it is sealed. It is held for the leads, who accept it or leave it out.
 */
export function action({ request, context }: Route.ActionArgs): Promise<HandInAnswer> {
  return guarded(async () => {
    const read = asked.safeParse(await request.json().catch(() => null));
    if (!read.success) return { outcome: "refused" };
    const { personId, deviceId, iv, bytes } = read.data;
    const device = await findGoneDevice(context.database, personId, deviceId);
    if (!device) return { outcome: "unknown" };
    const item = readQueued(unsealed(device.key, iv, bytes));
    if (!item) return { outcome: "refused" };
    return withScope(
      context.database,
      { kind: "job", schoolId: device.schoolId, name: "hand-in" },
      null,
      async (scope): Promise<HandInAnswer> => ({
        outcome: (await holdItemOf(scope, personId, item, observedAtOf(item))) ? "held" : "refused",
      }),
    );
  }, context.pulse);
}
