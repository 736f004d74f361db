import { data } from "react-router";
import type { Problems } from "#app/ui/form-data.ts";

/** In the browser: where an answer never came, the form stays as it is and says so. Everything the server said passes. */
export async function keepTypedOffline<T>(serverAction: () => Promise<T>) {
  try {
    return await serverAction();
  } catch (error) {
    if (!(error instanceof TypeError) && !(error instanceof DOMException)) throw error;
    const problems: Problems = {
      form: "Not saved yet: there is no connection. What you entered is still here; please save again in a moment.",
    };
    // A failure's status: nothing else on the page is read again meanwhile.
    return data({ problems, typed: undefined }, { status: 503 });
  }
}
