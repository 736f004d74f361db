/** What was typed and not saved, kept for this tab so that a reload or a wrong turn loses nothing; sign-out clears it. */
const keyOf = (name: string) => `gentle-margin draft ${name}`;

/** What this tab had left, whatever it is: the reader looks at it before it uses it. */
export function readDraft(name: string): unknown {
  try {
    return JSON.parse(sessionStorage.getItem(keyOf(name)) ?? "null");
  } catch {
    return null;
  }
}

export function keepDraft(name: string, value: unknown): void {
  try {
    sessionStorage.setItem(keyOf(name), JSON.stringify(value));
  } catch {
    // Without storage what is typed lives as long as the page.
  }
}

export function forgetDraft(name: string): void {
  try {
    sessionStorage.removeItem(keyOf(name));
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}

/** Runs a form's action and forgets its draft once the server said that it is saved; on the way to the sign-in it stays. */
export async function forgettingDraft<T>(name: string, action: () => Promise<T>): Promise<T> {
  try {
    return await action();
  } catch (thrown) {
    if (thrown instanceof Response && /[?&]saved=/.test(thrown.headers.get("Location") ?? ""))
      forgetDraft(name);
    throw thrown;
  }
}
