import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { type DeviceLock, pinTries } from "#core/sync/device-lock.ts";
import { noteWrongPins, readDeviceLock } from "#server/db/device-lock.ts";
import { registerDevice } from "#server/db/devices.ts";
import { readRecordingPack } from "#server/db/recording-pack.ts";
import { noteReads } from "#server/db/reads.ts";
import type { RecordingPack } from "#core/sync/pack.ts";
import { deviceName } from "#core/words/device-name.ts";
import { id } from "#app/ui/form-data.ts";
import type { Route } from "./+types/pack";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const asked = z.object({
  deviceId: id,
  /** PINs that the locked device refused without a network. */
  wrong: z.optional(z.int().check(z.gte(0), z.lte(pinTries))),
});

/** What a signed-in person's device is given to record with; `forgotten` where it has been told off from another one. */
export type PackAnswer =
  { forgotten: true } | { key: string; serverNow: number; lock: DeviceLock; pack: RecordingPack };

export async function action({ request, context }: Route.ActionArgs) {
  const read = asked.safeParse(await request.json().catch(() => null));
  return authorize(request, context, "sitting.open", null, async (scope): Promise<PackAnswer> => {
    if (!read.success) throw data({ kind: "not-found" }, { status: 404 });
    const key = await registerDevice(
      scope,
      read.data.deviceId,
      deviceName(request.headers.get("User-Agent") ?? ""),
    );
    await noteWrongPins(scope, read.data.wrong ?? 0);
    if (key === null) return { forgotten: true };
    const pack = await readRecordingPack(scope);
    await noteReads(
      scope,
      "recording",
      pack.students.map(({ studentId }) => studentId),
      { way: "device" },
    );
    return {
      key: key.toString("base64"),
      serverNow: scope.now.getTime(),
      lock: await readDeviceLock(scope, key),
      pack,
    };
  });
}
