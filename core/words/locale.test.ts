import { afterEach, describe, expect, it } from "vitest";
import { figure } from "./amounts.ts";
import { dateWithYear, longDate, shortDate, timeOfDay, timeSpan } from "./dates.ts";
import { writing } from "./formats.ts";
import { listed } from "./lists.ts";
import { localeFor } from "./locale.ts";

afterEach(() => {
  writing.locale = "en-US";
});

describe("the locale of a school", () => {
  // What Unicode CLDR has for each locale, as `Intl` gives it.
  it.each([
    [
      "en-US",
      "Tue, Nov 24",
      "Nov 24, 2026",
      "Tuesday, November 24",
      "1:20 PM",
      "9:10–9:50 AM",
      "a, b, and c",
    ],
    [
      "en-CA",
      "Tue, Nov 24",
      "Nov 24, 2026",
      "Tuesday, November 24",
      "1:20 p.m.",
      "9:10–9:50 a.m.",
      "a, b and c",
    ],
    ["en-GB", "Tue 24 Nov", "24 Nov 2026", "Tuesday 24 November", "13:20", "09:10–09:50", "a, b and c"],
  ])("%s writes dates, times and lists", (locale, ...written) => {
    writing.locale = locale;
    const day = "2026-11-24";
    expect(
      [
        ...[shortDate(day), dateWithYear(day), longDate(day), timeOfDay("13:20"), timeSpan("09:10", "09:50")],
        listed(["a", "b", "c"]),
      ].map((text) => text.replaceAll("\u00a0", " ")),
    ).toEqual(written);
    expect([figure(79.6, "percent"), figure(1240, "minutes")].join()).toBe("80%,1,240\u00a0minutes");
  });

  it("is the first that a browser asks for and a school can have", () => {
    expect(
      ["en-CA,en;q=0.8", "fr-CA, en-gb;q=0.7, en-US;q=0.6", "es-MX,es", "", "*"].map((asked) =>
        localeFor(asked),
      ),
    ).toEqual(["en-CA", "en-GB", "en-US", "en-US", "en-US"]);
  });
});
