/** Locales that a school can choose for its dates, times and numbers. */
export const schoolLocales = ["en-US", "en-CA", "en-GB"] as const;
export type SchoolLocale = (typeof schoolLocales)[number];

/** The one of these locales that a reader's own languages ask for first ("en-CA, fr;q=0.8"); en-US where they ask for none. */
export function localeFor(asked: string): SchoolLocale {
  const wanted = asked.split(",").map((one) => one.split(";")[0]?.trim().toLowerCase());
  for (const one of wanted) {
    const found = schoolLocales.find((locale) => locale.toLowerCase() === one);
    if (found) return found;
  }
  return "en-US";
}
