import * as z from "zod/mini";
import { letterKeyWays } from "#core/model/letter-keys.ts";
import { saveLetterKeys } from "#server/db/own-settings.ts";
import { defineAction } from "#app/kit/define-action.server.ts";

/** Saves how this person wants the application to behave for them, in every browser. */
export const action = defineAction({
  permission: "own-settings.keep",
  schema: z.object({ letterKeys: z.enum(letterKeyWays) }),
  async run(scope, { letterKeys }) {
    await saveLetterKeys(scope, letterKeys);
    return { saved: letterKeys };
  },
});
