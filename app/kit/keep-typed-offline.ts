import { data } from "react-router";
import type { Problems } from "#app/ui/form-data.ts";
import { draftField, forgetDraft } from "./tab-draft.ts";

/** Does this answer say that nothing was saved? */
const hasProblems = (answer: unknown): boolean =>
  typeof answer === "object" && answer !== null && "problems" in answer;

/**
 * Runs a form's action in the browser. Where no answer comes, the form keeps what was typed and says so; answers of the server pass.
 * A form that names its draft, as `KeptForm` does, has it deleted once it is saved; the way to the sign-in page keeps it.
 */
export async function keepTypedOffline<T>(serverAction: () => Promise<T>, request?: Request) {
  const sent = request?.clone().formData();
  const saved = async () => {
    const draft = (await sent)?.get(draftField);
    if (typeof draft === "string") forgetDraft(draft);
  };
  try {
    const answer = await serverAction();
    if (!hasProblems(answer)) await saved();
    return answer;
  } catch (error) {
    if (error instanceof Response && !(error.headers.get("Location") ?? "/sign-in").startsWith("/sign-in"))
      await saved();
    if (!(error instanceof TypeError) && !(error instanceof DOMException)) throw error;
    const problems: Problems = {
      form: "Not saved yet: there is no connection. What you entered is still here; please save again in a moment.",
    };
    // The status of a failure, so that the router does not read the rest of the page again.
    return data({ problems, typed: undefined }, { status: 503 });
  }
}
