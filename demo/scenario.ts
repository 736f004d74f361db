/** The demo school. Every name and every number in it is invented. */
export const school = { name: "Larkspur Bay School", timeZone: "America/Los_Angeles" };

export const demoPassword = "gentle margin demo";

export type PersonKey = "noor" | "teo" | "mirela" | "ines" | "paloma" | "gus" | "hana" | "desmond";

export const people: Record<
  PersonKey,
  { given: string; family: string; position: string; role: "administrator" | "staff" }
> = {
  noor: { given: "Noor", family: "Halloran", position: "Case manager", role: "staff" },
  teo: { given: "Teo", family: "Brandvold", position: "Paraeducator", role: "staff" },
  mirela: { given: "Mirela", family: "Castellan", position: "Paraeducator", role: "staff" },
  ines: { given: "Ines", family: "Okafor", position: "Speech-language pathologist", role: "staff" },
  paloma: { given: "Paloma", family: "Ruiz", position: "Occupational therapist", role: "staff" },
  gus: { given: "Gus", family: "Lindqvist", position: "Adapted PE", role: "staff" },
  hana: { given: "Hana", family: "Whitlock", position: "Psychologist", role: "staff" },
  desmond: { given: "Desmond", family: "Achterberg", position: "Principal", role: "administrator" },
};

export function emailOf({ given, family }: { given: string; family: string }): string {
  return `${given}.${family}@larkspurbay.example`.toLowerCase();
}

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
  opportunities: number;
  criterion: { value: number; k: number; n: number } | null;
  dueDay: number;
  /** Weekdays on which it is probed, Monday = 1, and by whom. */
  weekdays: number[];
  by: PersonKey[];
  baseline: { from: number; to: number } | null;
  stretches: Stretch[];
  /** No entry after this day of the year. */
  lastDay?: number;
  metDay?: number;
  noise?: number;
  notes?: string[];
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

const practice = (fromDay: number, from: number, to: number, name = "teaching begins"): Stretch => ({
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
        wording:
          "By {due}, when work becomes hard, {name} will hand over her break card before leaving the table in 4 of 5 opportunities on 3 consecutive days.",
        criterion: { value: 80, k: 3, n: 3 },
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
        wording:
          "By {due}, {name} will begin to move to the next activity within 45 seconds of the signal in 7 of 8 transitions.",
        criterion: { value: 87.5, k: 3, n: 4 },
        dueDay: 220,
        weekdays: [1, 3],
        by: ["teo"],
        baseline: { from: 38, to: 38 },
        noise: 9,
        stretches: [practice(15, 38, 44)],
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
        title: "Asks for help",
        area: "Communication",
        opportunities: 5,
        wording:
          "By {due}, {name} will ask an adult for help in words instead of pushing work away in 4 of 5 occasions.",
        criterion: { value: 80, k: 3, n: 4 },
        dueDay: 200,
        weekdays: [2, 5],
        by: ["teo"],
        baseline: { from: 20, to: 30 },
        noise: 12,
        stretches: [practice(20, 40, 70)],
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
        title: "Washes hands when told",
        area: "Daily living",
        opportunities: 4,
        wording:
          "By {due}, {name} will begin washing her hands when told, without another reminder, on 4 of 4 occasions.",
        criterion: { value: 100, k: 3, n: 4 },
        dueDay: 160,
        weekdays: [1, 3, 5],
        by: ["mirela"],
        baseline: { from: 30, to: 40 },
        noise: 14,
        stretches: [practice(14, 55, 92)],
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
        title: "Starts work without a reminder",
        area: "Behavior",
        opportunities: 6,
        wording:
          "By {due}, {name} will begin written work within two minutes and without a reminder in 5 of 6 lessons.",
        criterion: { value: 83, k: 3, n: 4 },
        dueDay: 200,
        weekdays: [2, 5],
        by: ["teo"],
        baseline: { from: 33, to: 33 },
        noise: 10,
        stretches: [practice(16, 50, 74)],
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
        dueDay: 185,
        weekdays: [1, 3],
        by: ["noor", "teo"],
        baseline: { from: 25, to: 25 },
        noise: 8,
        stretches: [practice(15, 34, 60)],
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
