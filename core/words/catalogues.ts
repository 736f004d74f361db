import { type Catalogue, en, type Language } from "./en.ts";
import { es } from "./es.ts";

/** The sentences of a language. */
export const catalogueOf = (language: Language): Catalogue => (language === "es" ? es : en);
