import { AsyncLocalStorage } from "node:async_hooks";
import { writing } from "#core/words/formats.ts";
import type { SchoolLocale } from "#core/words/locale.ts";

const ofRequest = new AsyncLocalStorage<{ locale: SchoolLocale }>();

/** Answers one request: what is written in it is written in the locale of its school, once that is known. */
export const withOwnLocale = <T>(answer: () => T): T => ofRequest.run({ locale: "en-US" }, answer);

/** From here on this request is written in that locale. */
export function writeIn(locale: SchoolLocale): void {
  const request = ofRequest.getStore();
  if (request) request.locale = locale;
}

Object.defineProperty(writing, "locale", { get: () => ofRequest.getStore()?.locale ?? "en-US" });
