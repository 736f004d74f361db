import { describe, expect, it } from "vitest";
import { readEntry } from "../measures/measure.ts";
import { progressEn } from "./en/progress.ts";
import { entryLine } from "../report/entry-line.ts";
import { deviceName } from "./device-name.ts";
import { dateWithYear, daysAgo, longDate, shortDate } from "./dates.ts";
import { figure, lengthOfTime, scoreWords } from "./amounts.ts";
import { listed } from "./lists.ts";
import { points } from "./numbers.ts";

describe("dates in words", () => {
  it("are the same on every machine", () => {
    expect([shortDate("2026-11-24"), longDate("2026-11-24"), dateWithYear("2027-02-12")]).toEqual([
      "Tue, Nov 24",
      "Tuesday, November 24",
      "Feb 12, 2027",
    ]);
    expect(shortDate("1969-12-31")).toBe("Wed, Dec 31");
  });

  it("say how long ago", () => {
    const from = (date: string) => daysAgo(date, "2026-11-24");
    expect(["2026-11-24", "2026-11-23", "2026-11-04", "2026-11-25", "2026-12-01"].map(from)).toEqual([
      "today",
      "yesterday",
      "20 days ago",
      "tomorrow",
      "in 7 days",
    ]);
  });
});

describe("figures in words", () => {
  it("never give a percentage without the counts it came from", () => {
    const said = (value: number | null, numerator: number | null, denominator: number | null) =>
      scoreWords({ value, unit: "percent", numerator, denominator });
    expect(said(70, 7, 10)).toBe("70% (7\u00a0of\u00a010)");
    expect(said(200 / 3, 2, 3)).toBe("67% (2\u00a0of\u00a03)");
    expect(said(null, null, null)).toBe("not scored");
  });

  it("are said in the unit of their measure", () => {
    const plain = (text: string) => text.replaceAll("\u00a0", " ");
    expect(
      (
        [
          [70.4, "percent"],
          [1, "count"],
          [2.44, "per minute"],
          [6, "per hour"],
          [250, "seconds"],
          [25, "minutes"],
        ] as const
      ).map(([value, unit]) => plain(figure(value, unit))),
    ).toEqual(["70%", "1 time", "2.4 a minute", "6 an hour", "4 min 10 s", "25 minutes"]);
    expect([0, 2.5, 45, 60, 250, 3600, 3900].map((seconds) => plain(lengthOfTime(seconds)))).toEqual([
      "0 s",
      "2.5 s",
      "45 s",
      "1 min",
      "4 min 10 s",
      "1 h",
      "1 h 5 min",
    ]);
    expect([[], ["a"], ["a", "b"], ["a", "b", "c"]].map((words) => listed(words))).toEqual([
      "",
      "a",
      "a and b",
      "a, b, and c",
    ]);
  });

  it("round a slope to the half point while it is small", () => {
    expect([0.2, 0.5, 1, 5.4, 5.6, -2.3, 31.2].map(points)).toEqual(["0", "½", "1", "5½", "5½", "2½", "31"]);
    expect(progressEn.slope(-4.2, "seconds")).toBe("Falling 4.2\u00a0s a week");
    expect(progressEn.slope(0.02, "per minute")).toBe("Level");
    expect([5.5, -1, 0.1, -0.5].map((slope) => progressEn.slope(slope, "percent"))).toEqual([
      "Rising 5½ points a week",
      "Falling 1 point a week",
      "Level",
      "Falling ½ point a week",
    ]);
  });

  it("make the line of the report, with the note as it was written", () => {
    const measure = { kind: "trials" } as const;
    const read = readEntry(measure, { kind: "trials", correct: 7, attempted: 10 });
    if (!read.ok) throw new Error("seven of ten is an entry");
    expect(entryLine("Two-digit subtraction", { measure, ...read }, " Checked two answers. ")).toEqual({
      sentence: "Two-digit subtraction: 7\u00a0of\u00a010 correct (70%).",
      note: "Checked two answers.",
    });
  });
});

describe("a device in the list of devices", () => {
  // The form of the header is of RFC 9110, section 10.1.5; these values are from memory, with their versions left out.
  it.each([
    [
      "Mozilla/5.0 (X11; CrOS x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/1 Safari/537.36",
      "Chrome on ChromeOS",
    ],
    [
      "Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/1 Safari/537.36",
      "Chrome on Android",
    ],
    [
      "Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/1 Safari/537.36 Edg/1",
      "Edge on Windows",
    ],
    [
      "Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1.15 Version/1 Safari/604.1",
      "Safari on iOS",
    ],
    ["Mozilla/5.0 (X11; Linux x86_64; rv:1) Gecko/20100101 Firefox/1", "Firefox on Linux"],
    ["", "A browser on a device"],
  ])("is called by its browser and system: %s", (header, name) => {
    expect(deviceName(header)).toBe(name);
  });
});
