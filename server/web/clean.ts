// eslint-disable-next-line no-control-regex -- these are what is taken out
const control = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g;

/** A text without control characters (tab and line breaks stay) and without halves of characters: what the database can keep. */
export function cleanText(text: string): string {
  return text.replace(control, "").toWellFormed();
}

/** The same for every text in a value read from JSON, the names of its fields too. */
export function cleanJson(value: unknown): unknown {
  if (typeof value === "string") return cleanText(value);
  if (Array.isArray(value)) return value.map(cleanJson);
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [cleanText(key), cleanJson(inner)]));
}
