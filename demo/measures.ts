import type { Measure } from "#core/measures/measure.ts";

/** The demo school's prompt ladders, each in the order its staff agreed on. */
export const ladders = {
  kinds: {
    name: "Kinds of prompt",
    levels: ["independent", "gestural", "verbal", "model", "physical"],
    misses: ["no response", "refused"],
  },
  amounts: {
    name: "Amount of assistance",
    levels: ["independent", "minimal", "moderate", "maximal"],
    misses: ["refused"],
  },
  number: {
    name: "Number of prompts",
    levels: ["no prompt", "1 prompt", "2 prompts", "3 or more prompts"],
    misses: ["no response"],
  },
} as const;

const of = (
  { levels, misses }: { levels: readonly string[]; misses: readonly string[] },
  credited: string,
) => ({
  levels: [...levels],
  misses: [...misses],
  credited,
});

export const measures = {
  breakCard: { kind: "supports", ...of(ladders.kinds, "gestural"), planned: 5 },
  gettingStarted: { kind: "supports", ...of(ladders.amounts, "moderate"), planned: 10 },
  nextActivity: { kind: "latency", report: "within", withinSeconds: 45 },
  callOuts: { kind: "count", per: "observation", counted: "call-outs" },
  leavingTheSeat: { kind: "count", per: "observation", counted: "times out of the seat" },
  beginningToWrite: { kind: "latency", report: "median" },
  keyboard: { kind: "running-total", target: 300, unit: "minutes", startsAgain: "month" },
  cookingTools: {
    kind: "checklist",
    items: [
      "ladle",
      "whisk",
      "colander",
      "spatula",
      "peeler",
      "grater",
      "rolling pin",
      "measuring cup",
      "tongs",
      "sieve",
    ],
  },
  paragraph: {
    kind: "rubric",
    criteria: [
      {
        id: "topic",
        label: "Topic sentence",
        max: 4,
        levels: ["missing", "names the topic", "says what is coming", "makes one want to read on"],
      },
      {
        id: "reasons",
        label: "Reasons",
        max: 4,
        levels: ["none", "one, unexplained", "two, explained", "three, explained and ordered"],
      },
      {
        id: "order",
        label: "Linking words",
        max: 4,
        levels: ["none", "and, then", "first, next, last", "chosen for the meaning"],
      },
      {
        id: "conventions",
        label: "Conventions",
        max: 4,
        levels: ["hard to read", "many slips", "few slips", "ready to share"],
      },
    ],
  },
  passage: { kind: "fluency", counted: "words", plannedSeconds: 60 },
  onTask: { kind: "intervals", method: "momentary", intervalSeconds: 60, planned: 20 },
  withTheGroup: { kind: "duration", report: "longest" },
  orderingLunch: {
    kind: "skills",
    skills: [
      "waits in line",
      "greets the cook",
      "says what she wants",
      "answers a question",
      "takes the tray",
      "says thank you",
    ],
    ...of(ladders.amounts, "independent"),
  },
  packingABag: {
    kind: "steps",
    steps: [
      "fetches the bag",
      "opens it",
      "puts in the folder",
      "puts in the lunch box",
      "checks the list",
      "closes the zip",
      "puts the bag on",
    ],
    ...of(ladders.kinds, "independent"),
    teaching: "backward",
  },
  disagreement: {
    kind: "outcomes",
    outcomes: [
      { id: "talked", label: "Talked it through", credit: 100 },
      { id: "prompted", label: "Talked it through after a prompt", credit: 60 },
      { id: "apart", label: "Walked apart calmly", credit: 40 },
      { id: "adult", label: "An adult ended it", credit: 0 },
    ],
  },
} as const satisfies Record<string, Measure>;
