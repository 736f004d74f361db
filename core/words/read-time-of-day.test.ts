import { describe, expect, it } from "vitest";
import { timeOfDay } from "./dates.ts";
import { writing } from "./formats.ts";
import { schoolLocales } from "./locale.ts";
import { readTimeOfDay } from "./read-time-of-day.ts";

describe("a time of day as people type it", () => {
  it.each([
    ["1:20 PM", "13:20"],
    ["1:20pm", "13:20"],
    ["1:20 p.m.", "13:20"],
    ["1:20", "13:20"],
    ["13:20", "13:20"],
    ["1320", "13:20"],
    ["0910", "09:10"],
    ["910", "09:10"],
    ["9.10 am", "09:10"],
    ["9.10", "09:10"],
    ["9h10", "09:10"],
    ["1 pm", "13:00"],
    ["12:05", "12:05"],
    ["12:05 am", "00:05"],
    ["12 pm", "12:00"],
    ["00:30", "00:30"],
    ["06:15", "06:15"],
    [" 8:00 AM ", "08:00"],
  ])("%s is %s", (typed, time) => {
    expect(readTimeOfDay(typed)).toEqual({ time });
  });

  it("may be two, where both are in school hours or neither is", () => {
    expect(readTimeOfDay("6:15")).toEqual({ either: ["06:15", "18:15"] });
    expect(readTimeOfDay("7:00", ["06:00", "20:00"])).toEqual({ either: ["07:00", "19:00"] });
    expect(readTimeOfDay("7:00", ["06:00", "14:00"])).toEqual({ time: "07:00" });
  });

  it.each(["", "noon", "25:00", "13:60", "9:5", "9", "13 pm", "0 am", "1:20:30", "12345", "am", "9:10 xm"])(
    "is not %s",
    (typed) => {
      expect(readTimeOfDay(typed)).toBeNull();
    },
  );

  it("is what is written too, in the way of each school", () => {
    for (const locale of schoolLocales) {
      writing.locale = locale;
      for (const time of ["00:05", "07:30", "09:10", "12:00", "13:20", "23:59"])
        expect(readTimeOfDay(timeOfDay(time))).toEqual({ time });
    }
    writing.locale = "en-US";
  });
});
