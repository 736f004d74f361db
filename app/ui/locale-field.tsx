import { formatsOf } from "#core/words/formats.ts";
import { type SchoolLocale, schoolLocales } from "#core/words/locale.ts";
import { Select } from "./field.tsx";

const countries: Record<SchoolLocale, string> = {
  "en-US": "English, United States",
  "en-CA": "English, Canada",
  "en-GB": "English, United Kingdom",
};

const options = schoolLocales.map((locale) => {
  const formats = formatsOf(locale);
  return [
    locale,
    `${countries[locale]}: ${formats.date("2026-11-26", "year")}, ${formats.time("13:20")}`,
  ] as const;
});

/**
 * How dates and times are written, each way with an example.
 *
 * @param asSchool offers to write them as the school does, too
 */
export function LocaleField({
  chosen,
  problem,
  label = "Dates and times",
  asSchool = false,
}: {
  chosen: string;
  problem: string | undefined;
  label?: string;
  asSchool?: boolean;
}) {
  return (
    <Select
      label={label}
      name="locale"
      options={asSchool ? [["", "As my school writes them"], ...options] : options}
      defaultValue={chosen}
      problem={problem}
    />
  );
}
