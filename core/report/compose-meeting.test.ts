import { expect, it } from "vitest";
import type { MeetingNote } from "../model/meeting.ts";
import { en } from "../words/en.ts";
import { es } from "../words/es.ts";
import { audienceDefaults } from "./audience.ts";
import { meetingLists } from "./compose-meeting.ts";

const note = (noteId: string, part: Partial<MeetingNote>): MeetingNote => ({
  ...{ noteId, meetingId: "m", goalId: null, kind: "agreed", words: noteId, by: "N. Halloran" },
  ...{ on: "2026-11-24", ...part },
});
const notes = [
  note("who brings the cards?", { kind: "question", goalId: "g" }),
  note("cards at home", { goalId: "g" }),
  note("meet in January", {}),
];

it("what was agreed comes before what was asked, each with its day and who wrote it, at its goal", () => {
  expect(meetingLists(notes, "g", audienceDefaults.family, en)).toEqual([
    {
      label: "Agreed in meetings",
      items: [
        {
          ...{ id: "cards at home", text: "cards at home", page: "meeting?at=agreed&on=2026-11-24" },
          aside: "Nov 24, 2026 · N. Halloran",
        },
      ],
    },
    {
      label: "Questions from meetings",
      items: [expect.objectContaining({ text: "who brings the cards?" })],
    },
  ]);
  const [ofNone, ...more] = meetingLists(notes, null, audienceDefaults.team, en);
  expect(ofNone?.items.map(({ text }) => text)).toEqual(["meet in January"]);
  expect(more).toEqual([]);
});

it("they are notes: left out where the audience reads none, and staff are named as it reads them", () => {
  const { own } = audienceDefaults;
  expect(meetingLists(notes, "g", own, en)).toEqual([]);
  const [agreed] = meetingLists(notes, "g", { ...own, fields: ["notes"] }, es);
  expect(agreed?.label).toBe("Acordado en reuniones");
  expect(agreed?.items[0]?.aside).toMatch(/· N\.\s?H\.$/);
  const [unnamed] = meetingLists(notes, "g", { ...own, staff: "none", fields: ["notes"] }, en);
  expect(unnamed?.items[0]?.aside).toBe("Nov 24, 2026");
});
