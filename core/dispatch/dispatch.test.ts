import { describe, expect, it } from "vitest";
import { localMoment, momentOfLocal } from "../dates/school-time.ts";
import { dispatchWords } from "../words/dispatch.ts";
import { messageKinds, wayOf } from "./message-kinds.ts";
import { nextTryAfter } from "./next-try.ts";
import { nextSummary, sendableFrom, type SendingHours, usualHours } from "./sending-hours.ts";
import { fillTemplate, paragraphsOf, templateProblems } from "./template.ts";

const calendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [{ name: "2026–27", fromOn: "2026-09-08", toOn: "2027-06-18" }],
  closures: [{ name: "Thanksgiving", fromOn: "2026-11-26", toOn: "2026-11-27" }],
  reportingPeriods: [],
};
const school = (timeZone: string) => ({ timeZone, calendar });
const zones = ["America/Los_Angeles", "Pacific/Honolulu", "America/St_Johns", "Pacific/Auckland"];
const comes = (timeZone: string, local: string, hours: Partial<SendingHours> = {}) =>
  localMoment(
    timeZone,
    sendableFrom(momentOfLocal(timeZone, local), { ...usualHours, ...hours }, school(timeZone)),
  ).slice(0, 16);

describe("sending hours", () => {
  it.each(zones)("wait in %s until quiet hours end and there is school", (zone) => {
    expect(comes(zone, "2026-11-24T12:00")).toBe("2026-11-24T12:00");
    expect(comes(zone, "2026-11-24T18:00")).toBe("2026-11-25T07:00");
    expect(comes(zone, "2026-11-24T06:59")).toBe("2026-11-24T07:00");
    // Over Thanksgiving and the weekend.
    expect(comes(zone, "2026-11-25T20:00")).toBe("2026-11-30T07:00");
    expect(comes(zone, "2026-11-28T12:00", { quiet: null })).toBe("2026-11-30T00:00");
    expect(comes(zone, "2026-11-28T12:00", { schoolDaysOnly: false })).toBe("2026-11-28T12:00");
  });

  it("are quiet at noon, from midnight or never, as a person wants", () => {
    const at = (local: string, from: string, to: string) =>
      comes("America/Los_Angeles", local, { quiet: { from, to } });
    expect(at("2026-11-24T12:10", "12:00", "13:00")).toBe("2026-11-24T13:00");
    expect(at("2026-11-24T00:10", "00:00", "08:00")).toBe("2026-11-24T08:00");
    expect(at("2026-11-27T09:00", "00:00", "08:00")).toBe("2026-11-30T08:00");
    expect(at("2026-11-24T12:10", "12:00", "12:00")).toBe("2026-11-24T12:10");
  });

  it("end once in the night the clocks go back, and after the gap in the night they go ahead", () => {
    const zone = "America/Los_Angeles";
    const hours = { ...usualHours, schoolDaysOnly: false, quiet: { from: "22:00", to: "01:30" } };
    const first = momentOfLocal(zone, "2026-11-01T01:30");
    const from = (at: number) => sendableFrom(at, hours, school(zone));
    expect(from(first - 60_000)).toBe(first);
    // An hour later the clock shows half past one once more: it was quiet once.
    expect(from(first + 40 * 60_000)).toBe(first + 40 * 60_000);
    const ahead = { ...hours, quiet: { from: "22:00", to: "02:30" } };
    const opens = sendableFrom(momentOfLocal(zone, "2027-03-14T01:00"), ahead, school(zone));
    expect(localMoment(zone, opens)).toBe("2027-03-14T03:30:00");
  });

  it("do not hold a message all summer where the next school year is not entered yet", () => {
    expect(comes("America/Los_Angeles", "2027-07-03T12:00")).toBe("2027-07-05T07:00");
    expect(comes("America/Los_Angeles", "2026-07-03T12:00")).toBe("2026-09-08T07:00");
  });

  it("bring summaries at their time, the weekly one on its day or the next with school", () => {
    const zone = "America/Los_Angeles";
    const next = (local: string, way: "daily" | "weekly") =>
      localMoment(zone, nextSummary(momentOfLocal(zone, local), way, usualHours, school(zone))).slice(0, 16);
    expect(next("2026-11-24T12:00", "daily")).toBe("2026-11-24T15:30");
    expect(next("2026-11-24T15:30", "daily")).toBe("2026-11-25T15:30");
    expect(next("2026-11-25T16:00", "daily")).toBe("2026-11-30T15:30");
    expect(next("2026-11-16T12:00", "weekly")).toBe("2026-11-20T15:30");
    expect(next("2026-11-24T12:00", "weekly")).toBe("2026-11-30T15:30");
  });
});

describe("a template", () => {
  const entry = { subject: "[student]: new", text: "Hello [reader],\n\n[what]\n\n[link]" };

  it("is checked: unknown fields, fields in the wrong place, lone brackets and what is missing", () => {
    expect(templateProblems("entry", entry)).toEqual({});
    expect(templateProblems("entry", { ...entry, text: "[studnet] [link]" }).text).toBe(
      "[studnet] is not a field of this message. There are [reader], [school], [student], [what], [link], [by], [on], [goal].",
    );
    expect(templateProblems("entry", { ...entry, text: "[Student] [link]" }).text).toContain(
      "[Student] is not",
    );
    expect(templateProblems("code", { subject: "[code]", text: "[code]" }).subject).toContain(
      "only be in the text",
    );
    expect(templateProblems("entry", { ...entry, text: "[student [link]" }).text).toContain("bracket");
    expect(templateProblems("entry", { ...entry, text: "New." }).text).toBe("The text needs [link].");
    expect(templateProblems("entry", { subject: " ", text: "" })).toEqual({
      subject: "Write a subject.",
      text: "Write the text.",
    });
  });

  it("is filled with what is given, once, and never with nothing", () => {
    const values = { student: "W.A.", reader: "[link]", what: "One\nnew entry", link: "https://x" };
    expect(fillTemplate("entry", entry, values)).toEqual({
      subject: "W.A.: new",
      text: "Hello [link],\n\nOne\nnew entry\n\nhttps://x",
    });
    expect(() => fillTemplate("entry", entry, { ...values, what: " " })).toThrow("no value for [what]");
    // A line end in a name starts no second header.
    expect(fillTemplate("entry", entry, { ...values, student: "W.A.\r\nBcc: x@y.example" }).subject).toBe(
      "W.A. Bcc: x@y.example: new",
    );
    expect(paragraphsOf("a\nb\n\n \n\nc\n")).toEqual([["a", "b"], ["c"]]);
  });

  it.each(messageKinds)("of ours for %s is right in each language", (kind) => {
    for (const language of ["en", "es"] as const)
      expect(templateProblems(kind, dispatchWords[language].templates[kind])).toEqual({});
  });
});

describe("a message", () => {
  it("is tried again sooner at first and given up after five days; a code after minutes", () => {
    const waits = (kind: "entry" | "code") => {
      const all: number[] = [];
      for (let age = 0; ;) {
        const wait = nextTryAfter(kind, all.length + 1, age);
        if (wait === null) return { all, age };
        all.push(wait);
        age += wait;
      }
    };
    const { all, age } = waits("entry");
    expect(all.slice(0, 6).map((wait) => wait / 60_000)).toEqual([2, 10, 30, 60, 120, 180]);
    expect(age / 3_600_000).toBeGreaterThan(4 * 24);
    expect(age / 3_600_000).toBeLessThanOrEqual(5 * 24);
    expect(waits("code").age).toBeLessThanOrEqual(10 * 60_000);
  });

  it("comes as a person chose, and as usual where they chose nothing that there is", () => {
    expect(wayOf({}, "entry")).toBe("daily");
    expect(wayOf({ entry: "off" }, "entry")).toBe("off");
    expect(wayOf({ due: "once" }, "due")).toBe("off");
  });
});
