import * as z from "zod/mini";
import { letterKeyWays } from "#core/model/letter-keys.ts";
import { authorize } from "#server/access/authorize.ts";
import { readLetterKeys, saveLetterKeys } from "#server/db/own-settings.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import type { Route } from "./+types/own-settings";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "own-settings.keep", null, async (scope) => ({
    letterKeys: await readLetterKeys(scope),
  }));
}

/** Saves how this person wants the application to behave for them, in every browser. */
export const action = defineAction({
  permission: "own-settings.keep",
  schema: z.object({ letterKeys: z.enum(letterKeyWays) }),
  async run(scope, { letterKeys }) {
    await saveLetterKeys(scope, letterKeys);
    return { saved: letterKeys };
  },
});
