import { isDataAnswer } from "#server/access/answer.ts";
import { Invalid } from "#server/errors.ts";
import { data } from "react-router";
import type { Failure } from "#server/failure.ts";
import type { Problems } from "#app/ui/form-data.ts";

/** Runs a save; where it fails, the form comes back with what was typed and a sentence that says what to do. */
export async function keepTyped<T>(typed: Record<string, string>, work: () => Promise<T>) {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Invalid) return data({ problems: error.problems, typed }, { status: 422 });
    if (isDataAnswer<{ kind?: string }>(error) && error.data.kind === "turned") {
      const problems: Problems = {
        form: "Not saved: in another tab this browser turned to another school or person. What you entered is still here. Turn back there, then save again.",
      };
      return data({ problems, typed }, { status: 409 });
    }
    if (isDataAnswer<Partial<Failure>>(error) && error.data.id) {
      const problems: Problems = {
        form: `Not saved yet: the records cannot be reached. What you entered is still here; please save again. (Reference ${error.data.id})`,
      };
      return data({ problems, typed }, { status: error.init?.status ?? 500 });
    }
    throw error;
  }
}
