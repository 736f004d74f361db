import { describe, expect, it } from "vitest";
import { groupsOfPeriod, inOrderOfGroups, packetChoiceSchema } from "./packet.ts";

const meeting = (weekday: number, startsAt: string, endsAt: string) => ({ weekday, startsAt, endsAt });
const crew = { groupId: "crew", meets: [meeting(1, "10:15", "10:45")], studentIds: ["b", "c"] };
const gym = {
  groupId: "gym",
  meets: [meeting(2, "09:00", "09:30"), meeting(4, "13:00", "13:30")],
  studentIds: ["c", "a"],
};
const club = { groupId: "club", meets: [], studentIds: ["d"] };
const timetable = [
  { ...meeting(1, "10:00", "10:30"), name: "Second period" },
  { ...meeting(4, "13:30", "14:00"), name: "Last period" },
  { ...meeting(2, "08:30", "09:10"), name: "First period" },
];
const students = ["a", "b", "c", "d", "e"].map((studentId) => ({ studentId }));
const ids = (some: readonly { studentId: string }[]) => some.map(({ studentId }) => studentId).join("");

describe("students of a packet", () => {
  it("are of the groups that meet in a period of the day, for a part of it as well", () => {
    const of = (name: string) =>
      groupsOfPeriod([crew, gym, club], timetable, name).map(({ groupId }) => groupId);
    expect(of("Second period")).toEqual(["crew"]);
    expect(of("First period")).toEqual(["gym"]);
    // It begins in the minute in which the group ends.
    expect(of("Last period")).toEqual([]);
    expect(of("No such period")).toEqual([]);
  });

  it("come as their groups meet in the day, each once, with those without a time or a group at the end", () => {
    expect(ids(inOrderOfGroups(students, [crew, gym, club]))).toBe("acbde");
    expect(ids(inOrderOfGroups(students, []))).toBe("abcde");
  });
});

it("a choice is read as it was stored, and nothing else is", () => {
  const choice = {
    ...{ of: "reports", audience: "family", span: { from: "2026-09-08", to: "2026-11-24" }, rubric: "" },
    ...{ title: "Progress reports", form: "one", oddPages: true },
  };
  expect(packetChoiceSchema.parse(JSON.parse(JSON.stringify(choice)))).toEqual(choice);
  expect(packetChoiceSchema.safeParse({ ...choice, form: "exe" }).success).toBe(false);
});
