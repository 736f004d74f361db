import type { Language } from "./en.ts";
import { filesEn, type FileWords } from "./en/files.ts";
import { filesEs } from "./es/files.ts";

/** What files of a report say around it, by language. No page needs it, so it is no part of the catalogues. */
export const fileWords: Record<Language, FileWords> = { en: filesEn, es: filesEs };
