import { data } from "react-router";
import type { Problems } from "#app/ui/form-data.ts";

/** Runs a form's action in the browser. Where no answer comes, the form keeps what was typed and says so; answers of the server pass. */
export async function keepTypedOffline<T>(serverAction: () => Promise<T>) {
  try {
    return await serverAction();
  } catch (error) {
    if (!(error instanceof TypeError) && !(error instanceof DOMException)) throw error;
    const problems: Problems = {
      form: "Not saved yet: there is no connection. What you entered is still here; please save again in a moment.",
    };
    // The status of a failure, so that the router does not read the rest of the page again.
    return data({ problems, typed: undefined }, { status: 503 });
  }
}
