import type { Drawing } from "./drawings.ts";
import type { PersonKey } from "./school.ts";

/** What the demo school writes jots about. Levels stand from the lowest. */
export const jotCategories = [
  {
    name: "Work habits",
    levels: [
      { name: "not seen yet", meaning: "Leaves the work, or waits to be shown each step." },
      { name: "with a person beside them", meaning: "Works while an adult stays at the desk." },
      { name: "with a reminder", meaning: "One reminder, by word or gesture, and goes on alone." },
      { name: "on their own", meaning: "Begins and goes on without a reminder." },
    ],
  },
  { name: "Friends and play", levels: [] },
  { name: "Family contact", levels: [] },
] as const;

/** One jot of the demo's story. The words are invented. */
export interface JotStory {
  given: string;
  day: number;
  at: string;
  by: PersonKey;
  category: (typeof jotCategories)[number]["name"] | null;
  /** From 1, the lowest. */
  level?: number;
  note: string | null;
  own?: boolean;
  teamOnly?: boolean;
  link?: { url: string; words: string };
  pictures?: { drawing: Drawing; caption: string }[];
}

/** How a student's work habits went, as two adults saw them on the same days: day, by Noor, by the other, and by the student. */
const habits: [given: string, other: PersonKey, days: [number, number, number, number | null][]][] = [
  [
    "Wren",
    "teo",
    [
      [7, 1, 1, null],
      [14, 1, 2, 3],
      [21, 2, 2, null],
      [28, 2, 2, 3],
      [35, 2, 3, null],
      [42, 3, 3, 3],
      [49, 3, 3, null],
      [56, 3, 3, 4],
      [63, 3, 4, null],
      [70, 4, 4, 4],
    ],
  ],
  [
    "Otis",
    "teo",
    [
      [9, 2, 2, null],
      [23, 2, 3, null],
      [37, 2, 2, null],
      [51, 3, 2, null],
      [65, 3, 3, null],
    ],
  ],
  [
    "Tobias",
    "teo",
    [
      [10, 2, 2, 3],
      [24, 3, 3, 3],
      [38, 3, 3, null],
      [52, 3, 4, 4],
      [66, 4, 4, null],
    ],
  ],
];

const habitJots: JotStory[] = habits.flatMap(([given, other, days]) =>
  days.flatMap(([day, first, second, own]): JotStory[] => [
    { given, day, at: "11:40", by: "noor", category: "Work habits", level: first, note: null },
    { given, day, at: "11:42", by: other, category: "Work habits", level: second, note: null },
    ...(own === null
      ? []
      : [
          {
            ...{ given, day, at: "14:12", by: "noor" as const, category: "Work habits" as const },
            ...{ level: own, note: null, own: true },
          },
        ]),
  ]),
);

const told: JotStory[] = [
  {
    ...{ given: "Wren", day: 70, at: "14:20", by: "noor", category: "Work habits", level: 4 },
    note: "Packed for home before the bell, with the list and without a word from anyone.",
    pictures: [{ drawing: "packedBag", caption: "A packed bag, three of four lines of the list ticked" }],
  },
  {
    ...{ given: "Wren", day: 58, at: "10:40", by: "teo", category: null },
    note: "Showed the regrouping on paper and explained each step aloud.",
    pictures: [
      { drawing: "subtraction", caption: "Worksheet: 52 minus 27 with the ten regrouped, answer 25" },
    ],
  },
  {
    ...{ given: "Wren", day: 44, at: "15:05", by: "noor", category: "Family contact", teamOnly: true },
    note: "Phone call: mornings are hard since the bus route changed. Grandmother asked for a picture list.",
  },
  {
    ...{ given: "Caspian", day: 61, at: "09:20", by: "mirela", category: null },
    note: "Put the break card on the desk before the noise began, and came back after four minutes.",
    pictures: [{ drawing: "breakCard", caption: "The break card on the corner of the desk" }],
  },
  {
    ...{ given: "Caspian", day: 33, at: "12:10", by: "mirela", category: "Friends and play" },
    note: "Asked to join a ball game and took turns for one round.",
  },
  {
    ...{ given: "Lumi", day: 66, at: "10:05", by: "mirela", category: "Friends and play" },
    note: "Built with a partner for eight minutes and handed blocks over when asked.",
    pictures: [{ drawing: "tower", caption: "A tower of eleven blocks beside one of four" }],
  },
  {
    ...{ given: "Priya", day: 40, at: "09:30", by: "noor", category: "Friends and play" },
    note: "Read the page aloud to the table and laughed at the same line twice.",
  },
  {
    ...{ given: "Otis", day: 54, at: "13:30", by: "noor", category: null },
    note: "Recorded the science talk with the tablet and listened to it afterwards.",
    link: { url: "https://larkspurbay.example/talks/6", words: "the recording of the talk" },
  },
  {
    ...{ given: "Juniper", day: 47, at: "10:10", by: "mirela", category: "Friends and play" },
    note: "Asked for help with the zipper in words, and then helped at the next coat.",
  },
  {
    ...{ given: "Malik", day: 69, at: "14:00", by: "noor", category: "Family contact", teamOnly: true },
    note: "Father would like the homework sheet by e-mail.",
  },
];

export const jotStories: readonly JotStory[] = [...habitJots, ...told];
