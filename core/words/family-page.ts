import { familyPageEn } from "./en/family-page.ts";
import { familyPageEs } from "./es/family-page.ts";
import type { Language } from "./en.ts";

/** The words of the family's own pages. They are in no report, so that pages of reports do without them. */
export const familyPageWords: Record<Language, typeof familyPageEn> = { en: familyPageEn, es: familyPageEs };
