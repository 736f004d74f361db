import { writing } from "./formats.ts";

const made = new Map<string, Intl.NumberFormat>();

/** A number with so many decimals, thousands grouped: 0.5 with two → "0.50", 1234.5 with one → "1,234.5". Recording has no use for it. */
export function fixedDecimals(value: number, decimals: number, locale = writing.locale): string {
  const key = `${locale} ${decimals}`;
  const format =
    made.get(key) ??
    new Intl.NumberFormat(locale, { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
  made.set(key, format);
  return format.format(value);
}
