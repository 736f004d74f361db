import * as z from "zod/mini";
import { letterKeyWays } from "#core/model/letter-keys.ts";
import { authorize } from "#server/access/authorize.ts";
import { endFirstSteps, readLetterKeys, saveLetterKeys } from "#server/db/own-settings.ts";
import { redirect } from "react-router";
import { defineIntents, intent } from "#app/kit/define-action.server.ts";
import type { Route } from "./+types/own-settings";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "own-settings.keep", null, async (scope) => ({
    letterKeys: await readLetterKeys(scope),
  }));
}

const keepingLetterKeys = intent({
  schema: z.object({ letterKeys: z.enum(letterKeyWays) }),
  async run(scope, { letterKeys }) {
    await saveLetterKeys(scope, letterKeys);
    return { saved: letterKeys };
  },
});

const skippingFirstSteps = intent({
  schema: z.object({}),
  async run(scope) {
    await endFirstSteps(scope);
    return redirect("/caseload");
  },
});

/** Saves how this person wants the application to behave for them, in every browser. */
export const action = defineIntents({
  permission: "own-settings.keep",
  intents: { "letter keys": keepingLetterKeys, "skip the first steps": skippingFirstSteps },
  otherwise: "letter keys",
});
