import * as z from "zod/mini";
import { redirect } from "react-router";
import { limitedPin } from "#server/auth/rate-limit.ts";
import { passwordMatches } from "#server/auth/password.ts";
import { authorize } from "#server/access/authorize.ts";
import { recordEvent } from "#server/db/events.ts";
import { noteSecurity } from "#server/failure.ts";
import { endHandover, keepHandover, pinHashOf } from "#server/db/handovers.ts";
import type { SealedKey } from "#core/sync/device-lock.ts";
import { sealedForPin } from "#server/db/device-lock.ts";
import { findDeviceKey } from "#server/db/devices.ts";
import { id } from "#app/ui/form-data.ts";
import type { Route } from "./+types/hand-over";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const asked = z.object({
  personId: id,
  pin: z.string().check(z.regex(/^\d{4,8}$/)),
  deviceId: z.optional(id),
});
const givenBack = z.object({ end: id });

/** Whether the device is theirs now, or what to do; `why` is empty where it was given back. */
export type HandOverAnswer = { handoverId: string; sealed: SealedKey | null } | { why: string };

/** A colleague takes over the signed-in person's device by their PIN: what they record there is theirs, until it is given back. */
export async function action({ request, context }: Route.ActionArgs): Promise<HandOverAnswer> {
  const sent: unknown = await request.json().catch(() => null);
  const back = givenBack.safeParse(sent);
  if (back.success)
    return authorize(request, context, "sitting.open", null, async (scope) => {
      await endHandover(scope, back.data.end);
      return { why: "" };
    });
  const read = asked.safeParse(sent);
  const found = await authorize(request, context, "sitting.open", null, async (scope) =>
    read.success ? { hash: await pinHashOf(scope, read.data.personId) } : null,
  );
  if (!read.success || found === null) return { why: "A PIN has 4 to 8 digits." };
  const { personId, pin, deviceId } = read.data;
  // Counted and compared outside of any transaction: both take their time.
  const tried = await limitedPin(context.database, personId, async () =>
    (await passwordMatches(pin, found.hash)) ? true : null,
  );
  return authorize(request, context, "sitting.open", null, async (scope) => {
    if (tried === true) {
      const handoverId = await keepHandover(scope, personId);
      const key = deviceId === undefined ? null : await findDeviceKey(scope, deviceId);
      // With it their PIN opens the device too, should its screen lock in their hands.
      return { handoverId, sealed: key && (await sealedForPin(scope, personId, key)) };
    }
    // Kept, so that whoever tries a colleague's PIN is seen.
    noteSecurity("PIN failed", { why: tried === "wrong" ? tried : "slow-down" });
    await recordEvent(scope, { thing: "pin", act: "refused", thingId: personId, studentId: null });
    return {
      why:
        tried === "wrong"
          ? "This is not their PIN. PINs are set under My devices."
          : "Too many tries. Wait a quarter of an hour, or go on without a PIN.",
    };
  });
}
