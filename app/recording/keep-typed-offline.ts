import type { Problems } from "#app/ui/form-data.ts";

/** In the browser: where an answer never came, the form stays as it is and says so. Everything the server said passes. */
export async function keepTypedOffline<T>(serverAction: () => Promise<T>): Promise<T | { problems: Problems; typed: undefined }> {
  try {
    return await serverAction();
  } catch (error) {
    if (!(error instanceof TypeError) && !(error instanceof DOMException)) throw error;
    return { problems: { form: "Not saved yet: there is no connection. What you entered is still here; please save again in a moment." }, typed: undefined };
  }
}
