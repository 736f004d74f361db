/** Stores what was typed and not saved for this tab, so that a reload or a wrong turn loses nothing. Signing out deletes it. */
const ownerKey = "gentle-margin drafts of";
const keyOf = (name: string) => `gentle-margin draft ${name}`;

/** The stored draft of this tab, unchecked: the reader checks its shape. */
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

/** What a part of a form is called as a draft: it is deleted with the form's own. */
export const partOf = (name: string, part: string): string => `${name} › ${part}`;

/** Deletes a draft and those of its parts. */
export function forgetDraft(name: string): void {
  try {
    sessionStorage.removeItem(keyOf(name));
    for (const key of Object.keys(sessionStorage))
      if (key.startsWith(keyOf(partOf(name, "")))) sessionStorage.removeItem(key);
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}

/** The hidden field in which a form says what its draft is called. */
export const draftField = "draft";

/** Whoever signs in at this tab finds no draft of another person. */
export function forgetDraftsOfOthers(personId: string): void {
  try {
    if (sessionStorage.getItem(ownerKey) !== personId)
      for (const key of Object.keys(sessionStorage))
        if (key.startsWith(keyOf(""))) sessionStorage.removeItem(key);
    sessionStorage.setItem(ownerKey, personId);
  } catch {
    // A browser that keeps nothing has nothing of another person.
  }
}

const saysSaved = (location: string) => /[?&]saved=/.test(location);

/**
 * Runs a form's action and deletes its draft once it is saved. A redirect to the sign-in page keeps the draft.
 *
 * @param isSaved does a redirect to this address mean that it was saved?
 */
export async function forgettingDraft<T>(
  name: string,
  action: () => Promise<T>,
  isSaved: (location: string) => boolean = saysSaved,
): Promise<T> {
  try {
    return await action();
  } catch (thrown) {
    if (thrown instanceof Response && isSaved(thrown.headers.get("Location") ?? "")) forgetDraft(name);
    throw thrown;
  }
}
