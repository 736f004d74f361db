import type { Criterion } from "#core/criteria/criterion.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { PersonKey } from "./school.ts";
import { measures } from "./measures.ts";

/** A stretch of the goal's history: from which day of the year on, under which name, from which level to which. */
interface Stretch {
  name: string;
  fromDay: number;
  from: number;
  to: number;
}

export interface GoalStory {
  number: string;
  title: string;
  area: string;
  /** `{due}` and `{name}` are filled in when seeding. */
  wording: string;
  /** Trials with so many opportunities, unless a measure of another kind is given. */
  opportunities: number;
  measure?: Measure;
  /** How much easier or harder each part of a grid or chain is, in points. */
  spread?: number[];
  criterion: ({ value: number; k: number; n: number } & Partial<Criterion>) | null;
  dueDay: number;
  /** Weekdays on which it is probed, Monday = 1, and by whom. */
  weekdays: number[];
  by: PersonKey[];
  baseline: { from: number; to: number } | null;
  stretches: Stretch[];
  /** In how many of a hundred opportunities no help is needed, on the first day of the story and the last. */
  alone?: { from: number; to: number };
  /** No entry after this day of the year. */
  lastDay?: number;
  /** No planned probe was left out. */
  always?: boolean;
  metDay?: number;
  noise?: number;
  notes?: string[];
  /** How it is taught. */
  strategy?: string;
  /** Chance of its own, so that the stories after it stay as they are. */
  own?: number;
}

export interface StudentStory {
  given: string;
  family: string;
  preferred?: string;
  grade: string;
  iepToDay: number;
  record: PersonKey[];
  read?: PersonKey[];
  goals: GoalStory[];
}

const practice = (fromDay: number, from: number, to: number, name = "teaching"): Stretch => ({
  name,
  fromDay,
  from,
  to,
});

export const students: StudentStory[] = [
  {
    given: "Wren",
    family: "Abara",
    grade: "2",
    iepToDay: 398,
    record: ["teo", "mirela", "ines", "paloma"],
    goals: [
      {
        number: "2b",
        title: "Two-digit subtraction",
        area: "Mathematics",
        opportunities: 10,
        wording:
          "By {due}, given ten two-digit subtraction problems with regrouping, {name} will solve them independently with 80% accuracy in 3 of 4 sessions.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 157,
        weekdays: [2, 4],
        by: ["noor", "teo"],
        baseline: { from: 22, to: 28 },
        noise: 6,
        stretches: [practice(16, 30, 44, "counting blocks"), practice(44, 50, 72, "place-value mat")],
        notes: [
          "Regrouping across a zero was still hard; she checked two answers without being asked.",
          "Set out the place-value mat herself.",
          "Tired after assembly; took her time.",
        ],
      },
      {
        number: "3",
        title: "Asks for a break with a card",
        area: "Behavior",
        opportunities: 5,
        measure: measures.breakCard,
        wording:
          "By {due}, when work becomes hard, {name} will hand over her break card before leaving the table with no more than a gestural prompt in 4 of 5 opportunities on 3 consecutive days.",
        criterion: { value: 80, k: 3, n: 3, windowUnit: "day" },
        dueDay: 185,
        weekdays: [1, 3, 5],
        by: ["mirela", "teo"],
        baseline: { from: 20, to: 20 },
        noise: 14,
        stretches: [practice(14, 30, 56)],
        notes: ["Once she left the table first.", "Used the card before the timer."],
      },
      {
        number: "4",
        title: "Moves to the next activity",
        area: "Behavior",
        opportunities: 8,
        measure: measures.nextActivity,
        wording:
          "By {due}, {name} will begin to move to the next activity within 45 seconds of the signal in 7 of 8 transitions.",
        criterion: { value: 87.5, k: 3, n: 4 },
        dueDay: 220,
        weekdays: [1, 3],
        by: ["teo"],
        baseline: { from: 38, to: 38 },
        noise: 4,
        stretches: [practice(15, 38, 33)],
      },
    ],
  },
  {
    given: "Caspian",
    family: "Doyle",
    preferred: "Cas",
    grade: "4",
    iepToDay: 250,
    record: ["teo"],
    read: ["hana"],
    goals: [
      {
        number: "1",
        title: "Spelling patterns",
        area: "Writing",
        opportunities: 10,
        wording:
          "By {due}, {name} will spell ten dictated words with taught vowel patterns with 90% accuracy in 3 of 4 sessions.",
        criterion: { value: 90, k: 3, n: 4 },
        dueDay: 150,
        weekdays: [1, 4],
        by: ["noor"],
        baseline: { from: 50, to: 50 },
        noise: 9,
        stretches: [practice(18, 56, 55)],
        notes: ["Mixed up ai and ay throughout.", "Wrote quickly and did not look back."],
      },
      {
        number: "2",
        title: "Raises a hand instead of calling out",
        area: "Behavior",
        opportunities: 1,
        measure: measures.callOuts,
        wording:
          "By {due}, {name} will raise his hand before speaking and call out no more than 2 times per class period on 4 of 5 days.",
        criterion: { value: 2, k: 4, n: 5, direction: "decrease", windowUnit: "day" },
        dueDay: 200,
        weekdays: [1, 2, 3, 4],
        by: ["teo", "noor"],
        baseline: { from: 9, to: 10 },
        noise: 1.4,
        stretches: [practice(20, 8, 7), practice(42, 5, 2.4, "waiting card")],
        notes: ["Most of them in the last ten minutes.", "Pointed to the card himself."],
      },
      {
        number: "3",
        title: "Keyboard practice",
        area: "Writing",
        opportunities: 1,
        measure: measures.keyboard,
        wording: "By {due}, {name} will practice the keyboard for a total of 300 minutes each month.",
        criterion: { value: 300, k: 1, n: 1 },
        dueDay: 240,
        weekdays: [1, 2, 4, 5],
        by: ["teo"],
        baseline: null,
        noise: 6,
        stretches: [practice(10, 8, 15)],
      },
    ],
  },
  {
    given: "Lumi",
    family: "Sato",
    grade: "K",
    iepToDay: 340,
    record: ["ines", "mirela"],
    goals: [
      {
        number: "1",
        title: "Letter names",
        area: "Reading",
        opportunities: 10,
        wording:
          "By {due}, shown ten lower-case letters, {name} will name them correctly with 80% accuracy in 2 consecutive sessions.",
        criterion: { value: 80, k: 2, n: 2 },
        dueDay: 240,
        weekdays: [3],
        by: ["ines"],
        baseline: null,
        stretches: [practice(0, 40, 55)],
        lastDay: 20,
        always: true,
      },
    ],
  },
  {
    given: "Otis",
    family: "Fairweather",
    grade: "6",
    iepToDay: 290,
    record: ["teo", "mirela"],
    goals: [
      {
        number: "1a",
        title: "Reads the recipe step aloud",
        area: "Reading",
        opportunities: 8,
        wording:
          "By {due}, given a kitchen recipe of eight steps, {name} will read each step aloud correctly in 7 of 8 steps.",
        criterion: { value: 87.5, k: 2, n: 3 },
        dueDay: 210,
        weekdays: [2, 4],
        by: ["mirela"],
        baseline: { from: 40, to: 44 },
        noise: 8,
        stretches: [practice(17, 48, 52), practice(50, 62, 82, "picture cues")],
      },
      {
        number: "1b",
        title: "Sorts mail at the school office",
        area: "Vocational",
        opportunities: 20,
        wording:
          "By {due}, {name} will sort twenty pieces of mail into the right tray with 95% accuracy on 3 of 4 days.",
        criterion: { value: 95, k: 3, n: 4 },
        dueDay: 230,
        weekdays: [1, 3, 5],
        by: ["teo"],
        baseline: { from: 60, to: 62 },
        noise: 5,
        stretches: [practice(12, 70, 90)],
      },
      {
        number: "2",
        title: "Names cooking tools",
        area: "Vocational",
        opportunities: 10,
        measure: measures.cookingTools,
        spread: [45, 30, -45, 20, 5, -10, 25, 15, -20, -35],
        wording:
          "By {due}, shown ten tools of the class kitchen, {name} will name 9 of 10 tools in 2 consecutive sessions.",
        criterion: { value: 90, k: 2, n: 2 },
        dueDay: 215,
        weekdays: [4],
        by: ["mirela", "teo"],
        baseline: { from: 30, to: 34 },
        noise: 3,
        stretches: [practice(18, 45, 76)],
      },
    ],
  },
  {
    given: "Priya",
    family: "Nandakumar",
    grade: "3",
    iepToDay: 365,
    record: ["ines"],
    goals: [
      {
        number: "1",
        title: "/r/ at the start of words",
        area: "Speech",
        opportunities: 20,
        wording:
          "By {due}, {name} will say /r/ at the start of words correctly in 18 of 20 productions across 3 consecutive sessions.",
        criterion: { value: 90, k: 3, n: 3 },
        dueDay: 170,
        weekdays: [2, 4],
        by: ["ines"],
        baseline: { from: 45, to: 50 },
        noise: 4,
        stretches: [practice(15, 60, 88)],
        notes: ["Clear in single words, slips in phrases.", "Heard two of her own slips."],
      },
      {
        number: "2",
        title: "Retells a short story",
        area: "Language",
        opportunities: 6,
        wording:
          "By {due}, after listening to a short story, {name} will retell it with 5 of 6 story parts in 3 of 4 sessions.",
        criterion: { value: 83, k: 3, n: 4 },
        dueDay: 200,
        weekdays: [3],
        by: ["ines"],
        baseline: { from: 33, to: 33 },
        noise: 9,
        stretches: [practice(16, 45, 62)],
      },
    ],
  },
  {
    given: "Tobias",
    family: "Venn",
    preferred: "Toby",
    grade: "7",
    iepToDay: 180,
    record: ["teo", "gus"],
    goals: [
      {
        number: "3",
        title: "Math facts",
        area: "Mathematics",
        opportunities: 20,
        wording:
          "By {due}, {name} will answer twenty mixed multiplication facts with 90% accuracy in 3 consecutive sessions.",
        criterion: { value: 90, k: 3, n: 3 },
        dueDay: 120,
        weekdays: [1, 3, 5],
        by: ["noor", "teo"],
        baseline: { from: 40, to: 45 },
        noise: 3,
        stretches: [practice(12, 60, 99)],
        metDay: 66,
      },
      {
        number: "4",
        title: "Checks change from a purchase",
        area: "Mathematics",
        opportunities: 5,
        wording: "By {due}, {name} will say whether the change he was given is right in 4 of 5 transactions.",
        criterion: { value: 80, k: 2, n: 3 },
        dueDay: 175,
        weekdays: [4],
        by: ["noor"],
        baseline: { from: 20, to: 30 },
        noise: 10,
        stretches: [practice(20, 40, 62)],
      },
      {
        number: "5",
        title: "Writes a paragraph with reasons",
        area: "Writing",
        opportunities: 1,
        measure: measures.paragraph,
        spread: [12, 0, -14, 4],
        wording:
          "By {due}, {name} will write a paragraph that gives reasons, scoring at least 12 of 16 points on the class rubric in 3 of 4 writing samples.",
        criterion: { value: 75, k: 3, n: 4 },
        dueDay: 205,
        weekdays: [5],
        by: ["noor", "teo"],
        baseline: { from: 38, to: 40 },
        noise: 4,
        stretches: [practice(16, 48, 70, "planning sheet")],
      },
    ],
  },
  {
    given: "Juniper",
    family: "Reyes",
    preferred: "Junie",
    grade: "1",
    iepToDay: 300,
    record: ["mirela", "ines", "paloma"],
    goals: [
      {
        number: "1",
        title: "Asks for help",
        area: "Communication",
        opportunities: 5,
        wording:
          "By {due}, {name} will ask for help with a word or her card in 4 of 5 opportunities on 3 of 4 days.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 190,
        weekdays: [1, 2, 4],
        by: ["mirela", "ines"],
        baseline: { from: 25, to: 30 },
        noise: 12,
        stretches: [practice(15, 36, 64)],
      },
      {
        number: "2",
        title: "Packs the school bag",
        area: "Daily living",
        opportunities: 1,
        measure: measures.packingABag,
        spread: [20, 15, 8, 2, -38, -12, 4],
        strategy:
          "Backward chaining with the picture list on the bag's flap; step back behind her once she reaches for it.",
        wording:
          "By {due}, {name} will pack the school bag, completing all 7 steps of the task analysis independently on 3 of 4 days.",
        criterion: { value: 100, k: 3, n: 4, windowUnit: "day" },
        dueDay: 190,
        weekdays: [1, 3, 5],
        by: ["teo", "paloma"],
        baseline: { from: 24, to: 28 },
        noise: 4,
        stretches: [practice(14, 40, 86)],
        notes: ["Found the list by herself.", "The zip was stuck today."],
      },
    ],
  },
  {
    given: "Malik",
    family: "Osei",
    grade: "5",
    iepToDay: 330,
    record: ["ines", "gus", "teo"],
    goals: [
      {
        number: "1",
        title: "Conversation turns",
        area: "Language",
        opportunities: 8,
        wording:
          "By {due}, at lunch {name} will answer and then ask something back in 6 of 8 turns in 3 of 4 sessions.",
        criterion: { value: 75, k: 3, n: 4 },
        dueDay: 140,
        weekdays: [2, 5],
        by: ["ines"],
        baseline: { from: 30, to: 35 },
        noise: 7,
        stretches: [practice(18, 38, 42), practice(46, 60, 74, "topic cards")],
      },
      {
        number: "2",
        title: "Catches a rolled ball",
        area: "Adapted PE",
        opportunities: 10,
        wording: "By {due}, {name} will stop and pick up a rolled ball in 8 of 10 trials.",
        criterion: { value: 80, k: 2, n: 2 },
        dueDay: 180,
        weekdays: [3],
        by: ["gus"],
        baseline: { from: 30, to: 40 },
        noise: 7,
        stretches: [practice(16, 45, 68)],
      },
      {
        number: "3",
        title: "Ends a disagreement in words",
        area: "Social",
        opportunities: 1,
        measure: measures.disagreement,
        wording:
          "By {due}, {name} will end a disagreement in words, alone or after one prompt, in 4 of 5 disagreements.",
        criterion: { value: 60, k: 4, n: 5 },
        dueDay: 225,
        weekdays: [1, 4],
        by: ["noor"],
        baseline: { from: 20, to: 20 },
        noise: 1,
        stretches: [practice(18, 40, 74)],
      },
    ],
  },
  {
    given: "Anselm",
    family: "Birke",
    grade: "5",
    iepToDay: 270,
    record: ["teo"],
    goals: [
      {
        number: "1",
        title: "Finds the main idea",
        area: "Reading",
        opportunities: 5,
        wording: "By {due}, after a short text {name} will point out the main idea in 4 of 5 paragraphs.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 205,
        weekdays: [2],
        by: ["noor"],
        baseline: { from: 40, to: 40 },
        noise: 12,
        stretches: [practice(15, 44, 66)],
      },
      {
        number: "2",
        title: "Writes down the homework",
        area: "Organization",
        opportunities: 6,
        wording: "By {due}, {name} will write each assignment in the planner in 5 of 6 classes a day.",
        criterion: { value: 83, k: 3, n: 4 },
        dueDay: 215,
        weekdays: [1, 3, 5],
        by: ["teo"],
        baseline: { from: 30, to: 34 },
        noise: 9,
        stretches: [practice(14, 40, 58)],
        lastDay: 55,
      },
      {
        number: "3",
        title: "Reads a grade passage aloud",
        area: "Reading",
        opportunities: 1,
        measure: measures.passage,
        wording:
          "By {due}, given a grade-level passage, {name} will read aloud at 90 words per minute with 95% accuracy across three consecutive sessions.",
        criterion: {
          value: 90,
          k: 3,
          n: 3,
          joined: [{ figure: "accuracy", value: 95, direction: "increase" }],
        },
        dueDay: 210,
        weekdays: [1, 3],
        by: ["noor"],
        baseline: { from: 48, to: 52 },
        noise: 4,
        stretches: [practice(14, 55, 84)],
      },
    ],
  },
  {
    given: "Elowen",
    family: "Kerr",
    grade: "3",
    iepToDay: 310,
    record: ["mirela"],
    goals: [
      {
        number: "1",
        title: "Counts out coins to a dollar",
        area: "Mathematics",
        opportunities: 10,
        wording:
          "By {due}, {name} will count out the named amount up to one dollar with 90% accuracy in 3 of 4 sessions.",
        criterion: { value: 90, k: 3, n: 4 },
        dueDay: 195,
        weekdays: [2, 4],
        by: ["noor", "mirela"],
        baseline: { from: 35, to: 40 },
        noise: 6,
        stretches: [practice(16, 42, 70)],
      },
      {
        number: "2",
        title: "Orders lunch",
        area: "Daily living",
        opportunities: 1,
        measure: measures.orderingLunch,
        spread: [30, 5, 10, -40, 25, -5],
        wording:
          "By {due}, {name} will order her lunch, showing 5 of 6 skills independently: waits in line, greets the cook, says what she wants, answers a question, takes the tray, says thank you, on four consecutive days.",
        criterion: { value: 83, k: 4, n: 4, windowUnit: "day" },
        dueDay: 195,
        weekdays: [1, 2, 4],
        by: ["mirela"],
        baseline: { from: 25, to: 30 },
        noise: 3,
        stretches: [practice(15, 40, 64), practice(50, 66, 80, "picture menu")],
      },
    ],
  },
  {
    given: "Hollis",
    family: "Marchetti",
    grade: "7",
    iepToDay: 225,
    record: ["teo", "gus"],
    goals: [
      {
        number: "2",
        title: "Solves for x in one step",
        area: "Mathematics",
        opportunities: 10,
        wording: "By {due}, {name} will solve one-step equations with 80% accuracy in 3 of 4 sessions.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 165,
        weekdays: [1, 4],
        by: ["noor"],
        baseline: { from: 30, to: 34 },
        noise: 7,
        stretches: [practice(18, 36, 38)],
      },
      {
        number: "3",
        title: "On task in group work",
        area: "Behavior",
        opportunities: 1,
        measure: measures.onTask,
        wording:
          "By {due}, {name} will be on task during group work for 80% of one-minute intervals in 3 of 4 sessions.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 180,
        weekdays: [2, 5],
        by: ["teo"],
        baseline: { from: 45, to: 45 },
        noise: 7,
        stretches: [practice(16, 52, 76)],
      },
      {
        number: "1",
        title: "Leaving the seat",
        area: "Behavior",
        opportunities: 1,
        own: 102,
        measure: measures.leavingTheSeat,
        wording:
          "By {due}, {name} will leave the seat without permission at most 3 times each week for 4 consecutive weeks.",
        criterion: { value: 3, k: 4, n: 4, direction: "decrease", windowUnit: "week" },
        dueDay: 170,
        weekdays: [1, 2, 3, 4, 5],
        by: ["teo"],
        baseline: { from: 3.2, to: 3.2 },
        noise: 0.7,
        stretches: [practice(14, 2.6, 0.5, "movement breaks")],
      },
    ],
  },
  {
    given: "Isaura",
    family: "Lund",
    grade: "2",
    iepToDay: 355,
    record: ["mirela", "paloma"],
    goals: [
      {
        number: "1",
        title: "Copies a line of words",
        area: "Fine motor",
        opportunities: 6,
        wording:
          "By {due}, {name} will copy a line of six words with every letter on the line in 5 of 6 words.",
        criterion: { value: 83, k: 2, n: 3 },
        dueDay: 230,
        weekdays: [4],
        by: ["paloma"],
        baseline: { from: 17, to: 33 },
        noise: 9,
        stretches: [practice(17, 35, 50)],
      },
      {
        number: "2",
        title: "Stays with the group",
        area: "Behavior",
        opportunities: 1,
        measure: measures.withTheGroup,
        wording: "By {due}, {name} will stay with the group for at least 10 minutes in 3 of 4 sessions.",
        criterion: { value: 600, k: 3, n: 4 },
        dueDay: 215,
        weekdays: [1, 3],
        by: ["noor"],
        baseline: { from: 150, to: 170 },
        noise: 50,
        stretches: [practice(16, 220, 520)],
      },
      {
        number: "3",
        title: "Beginning to write",
        area: "Organization",
        opportunities: 1,
        own: 103,
        measure: measures.beginningToWrite,
        wording:
          "By {due}, after the direction to write, {name} will begin within a median of 30 seconds in 3 of 4 sessions.",
        criterion: { value: 30, k: 3, n: 4, direction: "decrease" },
        dueDay: 190,
        weekdays: [2, 4],
        by: ["noor", "paloma"],
        baseline: { from: 120, to: 115 },
        noise: 14,
        stretches: [practice(15, 100, 48)],
      },
    ],
  },
  {
    given: "Rafi",
    family: "Calder",
    grade: "6",
    iepToDay: 280,
    record: ["teo"],
    goals: [
      {
        number: "1",
        title: "Answers why questions",
        area: "Language",
        opportunities: 8,
        wording:
          "By {due}, {name} will answer why questions about a passage correctly in 6 of 8 questions in 3 of 4 sessions.",
        criterion: { value: 75, k: 3, n: 4 },
        dueDay: 105,
        weekdays: [1, 3],
        by: ["noor", "teo"],
        baseline: { from: 25, to: 25 },
        noise: 8,
        stretches: [practice(15, 34, 60)],
      },
      {
        number: "2",
        title: "Reading a bus timetable",
        area: "Daily living",
        opportunities: 10,
        own: 101,
        wording:
          "By {due}, given a bus timetable, {name} will find the asked departure with 80% accuracy in 3 of 4 sessions.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 150,
        weekdays: [2, 4],
        by: ["noor", "teo"],
        baseline: { from: 30, to: 32 },
        noise: 3,
        always: true,
        stretches: [practice(14, 45, 99)],
      },
    ],
  },
  {
    given: "Yara",
    family: "Dimitrov",
    grade: "4",
    iepToDay: 320,
    record: ["mirela"],
    goals: [
      {
        number: "1",
        title: "Uses a word bank to answer",
        area: "Writing",
        opportunities: 10,
        wording:
          "By {due}, {name} will complete ten sentences from a word bank with 80% accuracy in 3 consecutive sessions.",
        criterion: { value: 80, k: 3, n: 3 },
        dueDay: 175,
        weekdays: [2, 5],
        by: ["noor", "mirela"],
        baseline: { from: 40, to: 45 },
        noise: 7,
        stretches: [practice(15, 50, 78)],
      },
      {
        number: "2",
        title: "Gets started on written work",
        area: "Organization",
        opportunities: 1,
        measure: measures.gettingStarted,
        alone: { from: 0, to: 58 },
        wording:
          "By {due}, {name} will begin written work within a minute, with no more than moderate assistance, in 9 of 10 opportunities in 3 of 4 sessions.",
        criterion: { value: 90, k: 3, n: 4 },
        dueDay: 175,
        weekdays: [1, 3, 4],
        by: ["noor", "mirela"],
        baseline: { from: 64, to: 64 },
        noise: 7,
        stretches: [practice(15, 69, 69)],
      },
      {
        number: "3",
        title: "Joins a game at recess",
        area: "Social",
        opportunities: 4,
        wording: "{name} will ask to join a game at recess.",
        criterion: null,
        dueDay: 200,
        weekdays: [],
        by: ["mirela"],
        baseline: null,
        stretches: [],
      },
    ],
  },
];
