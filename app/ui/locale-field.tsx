import { formatsOf } from "#core/words/formats.ts";
import { type SchoolLocale, schoolLocales } from "#core/words/locale.ts";
import { Select } from "./field.tsx";

const countries: Record<SchoolLocale, string> = {
  "en-US": "United States",
  "en-CA": "Canada",
  "en-GB": "United Kingdom",
};

const options = schoolLocales.map((locale) => {
  const formats = formatsOf(locale);
  return [
    locale,
    `${countries[locale]}: ${formats.date("2026-11-26", "year")}, ${formats.time("13:20")}`,
  ] as const;
});

/** How a school writes dates and times, each way with an example. */
export function LocaleField({ chosen, problem }: { chosen: string; problem: string | undefined }) {
  return (
    <Select label="Dates and times" name="locale" options={options} defaultValue={chosen} problem={problem} />
  );
}
