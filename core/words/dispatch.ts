import { dispatchEn } from "./en/dispatch.ts";
import { dispatchEs } from "./es/dispatch.ts";
import type { Language } from "./en.ts";

/** The words of messages. They are in no report, so that pages of reports do without them. */
export const dispatchWords: Record<Language, typeof dispatchEn> = { en: dispatchEn, es: dispatchEs };
