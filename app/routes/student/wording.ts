import * as z from "zod/mini";
import { data } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { propose } from "#core/goal-wording/propose.ts";
import { readForm } from "#app/ui/form-data.ts";
import type { Route } from "./+types/wording";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "wording.read", null, () => Promise.resolve(notFound()));
}

/** Proposes a set-up from a goal's wording while it is typed. Nothing is stored or logged. */
export function action({ request, context }: Route.ActionArgs) {
  return request.formData().then((form) =>
    authorize(request, context, "wording.read", null, () => {
      const read = readForm(form, z.object({ wording: z.string().check(z.maxLength(2000)) }));
      return Promise.resolve(
        read.ok
          ? data({ wording: read.values.wording, proposal: propose(read.values.wording) })
          : data({ wording: "", proposal: null }, { status: 422 }),
      );
    }),
  );
}
