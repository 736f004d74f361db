import * as z from "zod/mini";
import { redirect } from "react-router";
import { pinTries } from "#core/sync/device-lock.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { passwordMatches } from "#server/auth/password.ts";
import { limitedUnlock } from "#server/auth/rate-limit.ts";
import { readToken, signOut } from "#server/auth/session.ts";
import {
  listPinsThatOpen,
  noteWrongPins,
  readTabletSettings,
  secondsSinceSignIn,
} from "#server/db/device-lock.ts";
import { pinSetAt } from "#server/db/handovers.ts";
import { id } from "#app/ui/form-data.ts";
import type { Route } from "./+types/unlock";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const pinSchema = z.string().check(z.regex(/^\d{4,8}$/));
const asked = z.union([
  /** Was the person here a moment ago, so that no PIN is needed? */
  z.object({ fresh: z.literal(true) }),
  /** `wrong`: how many PINs the device refused by itself before, without a network. */
  z.object({
    pin: pinSchema,
    handoverId: z.nullable(id),
    wrong: z.int().check(z.gte(0), z.lte(pinTries)),
  }),
  /** Too many PINs were wrong while there was no network. */
  z.object({ over: z.literal(true) }),
]);

/** Whether a locked device opens: by itself, by a PIN, not by this one, or by signing in only. */
export type UnlockAnswer = { outcome: "open" | "locked" | "wrong" | "sign in" };

/** Opens the recording screens of a person's own device by their PIN. Five wrong ones end the session there. */
export async function action({ request, context }: Route.ActionArgs): Promise<UnlockAnswer> {
  const read = asked.safeParse(await request.json().catch(() => null));
  const token = readToken(request, context.secure);
  const may = <T>(work: (scope: PersonScope) => Promise<T>) =>
    authorize(request, context, "sitting.open", null, work);
  const end = async (times: number): Promise<UnlockAnswer> => {
    await may((scope) => noteWrongPins(scope, times));
    if (token !== null) await signOut(context.database, token);
    return { outcome: "sign in" };
  };
  if (!read.success) return may(() => Promise.resolve({ outcome: "wrong" }));
  if ("over" in read.data) return end(pinTries);
  if ("fresh" in read.data)
    return may(async (scope) => {
      const { pinMinutes } = await readTabletSettings(scope);
      const needsNone = pinMinutes === null || (await pinSetAt(scope)) === null;
      const isFresh = pinMinutes !== null && (await secondsSinceSignIn(scope)) < pinMinutes * 60;
      return { outcome: needsNone || isFresh ? "open" : "locked" };
    });
  const { pin, handoverId, wrong } = read.data;
  const pins = await may((scope) => listPinsThatOpen(scope, handoverId));
  // Counted and compared outside of any transaction: both take their time.
  const tried = await limitedUnlock(context.database, token ?? "", wrong, async () => {
    const matches = await Promise.all(pins.map((hash) => passwordMatches(pin, hash)));
    return matches.includes(true) ? true : null;
  });
  if (tried === true) {
    await may((scope) => noteWrongPins(scope, wrong));
    return { outcome: "open" };
  }
  if (tried === "over") return end(wrong + 1);
  await may((scope) => noteWrongPins(scope, wrong + 1));
  return { outcome: "wrong" };
}
