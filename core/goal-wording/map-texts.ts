/** The same value with every text in it passed through `change`; the keys of objects stay. */
export function mapTexts<T>(value: T, change: (text: string) => string): T {
  return JSON.parse(
    JSON.stringify(value, (_, part: unknown) => (typeof part === "string" ? change(part) : part)),
  ) as T;
}

/** Every text in a value, in the order in which it stands there. */
export function textsIn(value: unknown): string[] {
  const texts: string[] = [];
  mapTexts(value, (text) => {
    texts.push(text);
    return text;
  });
  return texts;
}
