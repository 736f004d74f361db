import { data, redirect } from "react-router";
import { isDataAnswer } from "#server/access/answer.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { holdItem } from "#server/db/held-items.ts";
import { Invalid } from "#server/errors.ts";
import { kept } from "#server/metrics.ts";
import type { KeepAnswer } from "#core/sync/keep-answer.ts";
import { readQueued } from "#core/sync/queued.ts";
import { keepAsObserved, madeReady, observedAtOf, notTaken } from "./keep-item.server.ts";
import type { Route } from "./+types/submit-queued";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

/** Whoever signed in meanwhile, in another tab, is not who recorded it: it waits for its person. */
function onlyBy(request: Request, scope: PersonScope): void {
  const by = request.headers.get("Recorded-By");
  if (by !== null && by !== scope.actor.personId) throw data({ kind: "signed-out" }, { status: 401 });
}

type Answered = KeepAnswer | ReturnType<typeof data<KeepAnswer>>;

/** Saves one item that a device recorded. The same item sent twice is saved once. */
export async function action(args: Route.ActionArgs): Promise<Answered> {
  const answer = await keepItem(args);
  const said = "outcome" in answer ? answer : answer.data;
  kept.inc({ outcome: said.outcome, reason: said.outcome === "refused" ? (said.asks ?? "content") : "" });
  return answer;
}

async function keepItem({ request, context }: Route.ActionArgs): Promise<Answered> {
  const item = readQueued(await request.json().catch(() => null));
  if (!item)
    return authorize(request, context, "sitting.open", null, () =>
      Promise.resolve(notTaken("The server cannot read this any more. Please tell your administrator.")),
    );
  try {
    // A picture is unpacked only for who may record for this student.
    const schoolId =
      item.kind === "picture"
        ? await authorize(request, context, "jot.record", item.studentId, (scope) =>
            Promise.resolve(scope.schoolId),
          )
        : "";
    const ready = await madeReady(item, schoolId);
    return await authorize(request, context, "entry.record", item.studentId, (scope) => {
      onlyBy(request, scope);
      return keepAsObserved(scope, ready);
    });
  } catch (error) {
    if (error instanceof Invalid) return notTaken(Object.values(error.problems).join(" "));
    const status = isDataAnswer(error) ? error.init?.status : undefined;
    if (status === 403 || status === 404) {
      const isHeld = await authorize(request, context, "sitting.open", null, (scope) => {
        onlyBy(request, scope);
        return holdItem(scope, item, observedAtOf(item));
      });
      // It was recorded before the part ended, and waits for a lead: the device has done its work.
      if (isHeld) return { outcome: "saved" };
      // Said by us, so that the device tells it from what somebody between answers with the same status.
      return data<KeepAnswer>({ outcome: "not allowed" }, { status });
    }
    throw error;
  }
}
