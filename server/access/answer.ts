import { data, isRouteErrorResponse } from "react-router";
import { Conflict, Invalid, NotFound, Refused } from "../errors.ts";
import { DatabaseAway, failure, type Pulse } from "../failure.ts";

/** Is this what React Router's `data()` makes: an answer meant for the browser? */
export function isDataAnswer<Body>(
  thrown: unknown,
): thrown is { data: Body; init: { status?: number } | null } {
  return (
    typeof thrown === "object" &&
    thrown !== null &&
    "type" in thrown &&
    thrown.type === "DataWithResponseInit"
  );
}

/** Turns what was thrown into an HTTP answer. Unexpected errors are logged and answered with an id. */
function answerOf(thrown: unknown): unknown {
  if (thrown instanceof NotFound) return data({ kind: "not-found" }, { status: 404 });
  if (thrown instanceof Refused) {
    const { ask, ofSchool } = thrown;
    return data({ kind: "not-allowed", ask, ofSchool }, { status: 403 });
  }
  if (thrown instanceof Conflict) return data({ kind: "conflict" }, { status: 409 });
  const isMeant =
    thrown instanceof Response ||
    thrown instanceof Invalid ||
    isRouteErrorResponse(thrown) ||
    isDataAnswer(thrown);
  if (isMeant) return thrown;
  const { body, status } = failure(thrown);
  return data(body, { status });
}

/** What is asked of a database that has stopped answering fails after 2.5 s and one look, instead of when its time is up. */
function whileAnswering<T>(work: () => Promise<T>, { answers, isAway }: Pulse): Promise<T> {
  if (isAway()) return Promise.reject(new DatabaseAway());
  return new Promise((resolve, reject) => {
    const look = async () => {
      if (await answers()) timer = setTimeout(() => void look(), 2500);
      else reject(new DatabaseAway());
    };
    let timer = setTimeout(() => void look(), 2500);
    work()
      .then(resolve, reject)
      .finally(() => clearTimeout(timer));
  });
}

/**
 * Runs the work of a loader or action; the one place where a domain error becomes HTTP. `Invalid` goes on to the form's action.
 *
 * @param pulse whether the database answers: asked where the work takes long
 */
export async function guarded<T>(work: () => Promise<T>, pulse?: Pulse): Promise<T> {
  try {
    return await (pulse ? whileAnswering(work, pulse) : work());
  } catch (error) {
    throw answerOf(error);
  }
}
