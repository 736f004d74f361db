import type { PersonKey } from "./school.ts";

/** The ratings on the demo school's progress reports. The words are invented. */
export const statementRatings = [
  { name: "on track", spanish: "va bien encaminado" },
  { name: "some progress", spanish: "algo de progreso" },
  { name: "little progress", spanish: "poco progreso" },
  { name: "not taught yet", spanish: "todavía no se ha enseñado" },
] as const;

/** Whose goals are written by a related-service person. */
export const statementWriters: readonly [given: string, number: string, by: PersonKey][] = [
  ["Lumi", "1", "ines"],
  ["Priya", "1", "ines"],
  ["Priya", "2", "ines"],
  ["Malik", "1", "ines"],
  ["Malik", "2", "gus"],
  ["Isaura", "1", "paloma"],
];

/** One statement of the demo's half-finished week. */
export interface StatementStory {
  given: string;
  number: string;
  rating: (typeof statementRatings)[number]["name"] | null;
  words: string;
  translation?: string;
  isReady: boolean;
}

const ready = true;
const draft = false;
const written: [
  given: string,
  number: string,
  rating: StatementStory["rating"],
  isReady: boolean,
  words: string,
  translation?: string,
][] = [
  [
    ...(["Wren", "2b", "on track", ready] as const),
    "The place-value mat made the difference: Wren lines up the columns and talks through each trade. Next she moves to problems without the mat.",
  ],
  [
    ...(["Wren", "3", "some progress", draft] as const),
    "Wren reaches for the card when the room is calm. We practice it now before lunch too, when it is hardest.",
  ],
  ["Caspian", "1", null, draft, "Caspian spells the pattern right on the slate and loses it in a sentence."],
  [
    ...(["Caspian", "2", "on track", ready] as const),
    "The waiting card on the desk works. Caspian flips it, and waits. He reminds others of it too.",
  ],
  ["Caspian", "3", "on track", ready, ""],
  [
    ...(["Otis", "1a", "on track", ready] as const),
    "With picture cues Otis reads each step before the kitchen crew begins. The crew waits for his step.",
  ],
  [
    "Otis",
    "1b",
    "on track",
    ready,
    "Otis sorts the whole tray alone, and asks at the office where he is not sure.",
  ],
  ["Otis", "2", "on track", ready, ""],
  [
    ...(["Priya", "1", "on track", ready] as const),
    "Priya hears the difference herself now and says the word again. Next: /r/ in the middle of words.",
  ],
  ["Tobias", "3", "on track", ready, ""],
  [
    ...(["Tobias", "4", "some progress", draft] as const),
    "Tobias counts back correctly when the price is a round number.",
  ],
  [
    ...(["Juniper", "1", "some progress", ready] as const),
    "Juniper asks for help in a quiet voice, and no longer waits to be seen. At home, wait a moment before you help: she will ask.",
    "Juniper pide ayuda en voz baja y ya no espera a que la vean. En casa, esperen un momento antes de ayudarla: la va a pedir.",
  ],
  [
    ...(["Juniper", "2", "on track", draft] as const),
    "The picture strip hangs inside her bag. Juniper follows it step by step.",
  ],
  [
    "Anselm",
    "1",
    "some progress",
    ready,
    "Anselm finds the main idea in short texts. With longer ones we underline first.",
  ],
  ["Anselm", "3", "on track", ready, ""],
  [
    "Elowen",
    "1",
    "some progress",
    ready,
    "Elowen counts dimes and nickels. Quarters are new since November.",
  ],
  [
    ...(["Elowen", "2", "on track", draft] as const),
    "Elowen ordered by herself three days in a row with the picture menu.",
  ],
  [
    ...(["Hollis", "2", "little progress", ready] as const),
    "Drawing the balance has not carried over to paper. We start again with weights on a real scale on Monday.",
  ],
  [
    "Hollis",
    "3",
    "on track",
    ready,
    "Hollis sits with two calm partners, and looks up the task on the card by himself.",
  ],
  [
    "Isaura",
    "2",
    "on track",
    ready,
    "Isaura stays through the whole story now, with her place marked on the rug.",
  ],
  ["Rafi", "1", "some progress", draft, ""],
  [
    "Rafi",
    "2",
    "on track",
    ready,
    "Rafi read the timetable on the field trip and told the group when to leave.",
  ],
  ["Yara", "1", "some progress", ready, ""],
];

/** The statements of the demo's story: some ready, some drafted, the rest not begun. */
export const statementStories: readonly StatementStory[] = written.map(
  ([given, number, rating, isReady, words, translation]) => ({
    ...{ given, number, rating, isReady, words },
    ...(translation === undefined ? {} : { translation }),
  }),
);
