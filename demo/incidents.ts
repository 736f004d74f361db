import type { ChoiceList } from "#core/model/choice-lists.ts";
import { emptyDetails } from "#core/incidents/blank.ts";
import { type LengthBand, starterBands } from "#core/incidents/lengths.ts";
import type { IncidentDetails } from "#core/model/incident-content.ts";
import type { PersonKey } from "./school.ts";

/** A kind of incident that a student has, and when: how often on which weekdays and hours. */
interface IncidentKind {
  /** Chance on each of these weekdays, from day to day of the story. */
  weekdays: number[];
  chance: number;
  fromDay?: number;
  toDay?: number;
  /** Minutes after midnight between which it begins. */
  between: [from: number, to: number];
  setting: string[];
  before: string[];
  did: string[];
  /** Now and then something more is seen. */
  also?: string[];
  after: string[];
  strength: [from: number, to: number];
  /** Which of the school's bands, from the shortest. */
  lengths: number[];
  notes?: string[];
}

export interface IncidentStory {
  given: string;
  by: PersonKey[];
  definitions: Record<string, string>;
  kinds: IncidentKind[];
  /** What somebody thought, and what was tried from a day of the story on. */
  plan?: { fromDay: number; by: PersonKey; name: string; thinking: string; trying: string };
}

const schoolDays = [1, 2, 3, 4, 5];
const clock = (hour: number, minute = 0) => hour * 60 + minute;

/**
 * What was planted: one student whose incidents cluster before lunch on two weekdays after a change from a liked to a disliked task;
 * one whose incidents fall after a new plan; two of one place each; one with too few to say anything; two of no pattern.
 */
export const incidentStories: IncidentStory[] = [
  {
    given: "Wren",
    by: ["teo", "mirela", "noor"],
    definitions: {
      "hitting or kicking":
        "A hand or foot touches a person with force; pushing past a person does not count.",
      shouting: "Louder than the room's talking voice, longer than a word.",
    },
    kinds: [
      {
        weekdays: [1, 3],
        chance: 0.95,
        between: [clock(10, 15), clock(10, 58)],
        setting: ["classroom"],
        before: ["change from a liked to a disliked task"],
        did: ["hitting or kicking"],
        also: ["shouting"],
        after: ["a break", "the task was taken away"],
        strength: [2, 4],
        lengths: [2, 3],
        notes: ["Drawing had to stop for subtraction.", "Came back after the break and did three problems."],
      },
      {
        weekdays: schoolDays,
        chance: 0.14,
        between: [clock(8, 45), clock(14, 40)],
        setting: ["hallway", "playground", "classroom"],
        before: ["had to wait", "told no", "loud or crowded"],
        did: ["shouting", "throwing things"],
        after: ["reminded in words", "moved to a quiet place"],
        strength: [1, 3],
        lengths: [0, 1],
      },
    ],
  },
  {
    given: "Caspian",
    by: ["teo", "noor"],
    definitions: {
      "refusing to begin": "No pencil on paper a minute after the direction, and says no or turns away.",
    },
    plan: {
      fromDay: 41,
      by: "noor",
      name: "choice of two tasks",
      thinking:
        "He refuses when he cannot see where the work ends. Talking with him at that moment puts the beginning off, and that may be what keeps it going.",
      trying:
        "Two tasks lie ready and he picks one. A strip shows how many parts are left. One reminder in words, then we wait a minute without talking.",
    },
    kinds: [
      {
        weekdays: schoolDays,
        chance: 0.78,
        toDay: 40,
        between: [clock(9), clock(14, 30)],
        setting: ["classroom", "resource room"],
        before: ["a direction was given", "told no"],
        did: ["refusing to begin", "throwing things"],
        after: ["reminded in words", "talked with an adult"],
        strength: [3, 5],
        lengths: [2, 3, 4],
      },
      {
        weekdays: schoolDays,
        chance: 0.18,
        fromDay: 41,
        between: [clock(9), clock(14, 30)],
        setting: ["classroom", "resource room"],
        before: ["a direction was given"],
        did: ["refusing to begin"],
        after: ["reminded in words", "a break"],
        strength: [1, 3],
        lengths: [0, 1],
      },
    ],
  },
  {
    given: "Malik",
    by: ["teo", "noor"],
    definitions: {},
    kinds: [
      {
        weekdays: schoolDays,
        chance: 0.3,
        between: [clock(11, 40), clock(12, 20)],
        setting: ["lunch room"],
        before: ["loud or crowded"],
        did: ["leaving the area", "crying"],
        after: ["moved to a quiet place", "talked with an adult"],
        strength: [2, 4],
        lengths: [1, 2, 3],
      },
    ],
  },
  {
    given: "Lumi",
    by: ["noor"],
    definitions: {},
    kinds: [
      {
        weekdays: [2],
        chance: 0.22,
        toDay: 60,
        between: [clock(13), clock(14)],
        setting: ["playground"],
        before: ["nothing planned to do"],
        did: ["leaving the area"],
        after: ["talked with an adult"],
        strength: [1, 2],
        lengths: [0],
      },
    ],
  },
  {
    given: "Hollis",
    by: ["noor", "teo"],
    definitions: {},
    kinds: [
      {
        weekdays: schoolDays,
        chance: 0.12,
        between: [clock(9, 50), clock(14)],
        setting: ["hallway", "lunch room", "classroom"],
        before: ["loud or crowded", "had to wait"],
        did: ["leaving the area", "crying"],
        after: ["talked with an adult", "moved to a quiet place"],
        strength: [1, 3],
        lengths: [0, 1, 2],
      },
    ],
  },
  {
    given: "Rafi",
    by: ["noor", "mirela"],
    definitions: {},
    kinds: [
      {
        weekdays: schoolDays,
        chance: 0.14,
        between: [clock(9), clock(14)],
        setting: ["classroom", "lunch room"],
        before: ["told no", "a direction was given", "loud or crowded"],
        did: ["refusing to begin", "shouting"],
        after: ["reminded in words", "talked with an adult", "a break"],
        strength: [1, 3],
        lengths: [0, 1],
      },
    ],
  },
];

export interface MadeIncident {
  day: number;
  /** `HH:MM` */
  at: string;
  by: PersonKey;
  names: Record<ChoiceList, string[]>;
  details: IncidentDetails;
  note: string | null;
}

/** The incidents of one story, in the order of their days; none on a day that `isOff`. */
export function makeIncidents(
  { kinds, by }: IncidentStory,
  {
    days,
    weekdayOf,
    isOff,
    random,
  }: {
    days: number;
    weekdayOf: (day: number) => number;
    isOff: (day: number) => boolean;
    random: () => number;
  },
): MadeIncident[] {
  const pick = <One>(list: readonly One[]): One => {
    const one = list[Math.floor(random() * list.length)];
    if (one === undefined) throw new Error("The story names nothing to choose from");
    return one;
  };
  const made: MadeIncident[] = [];
  for (let day = 0; day < days; day += 1)
    for (const kind of kinds) {
      const { fromDay = 0, toDay = days, between, strength } = kind;
      const happens = random() < kind.chance;
      if (isOff(day) || day < fromDay || day > toDay || !kind.weekdays.includes(weekdayOf(day)) || !happens)
        continue;
      const minutes = between[0] + Math.floor(random() * (between[1] - between[0]));
      const two = (part: number) => String(part).padStart(2, "0");
      const resolved = random() < 0.85;
      const band: LengthBand = starterBands[pick(kind.lengths)] ?? pick(starterBands);
      made.push({
        day,
        at: `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`,
        by: pick(by),
        names: {
          setting: [pick(kind.setting)],
          antecedent: [pick(kind.before)],
          behavior: [pick(kind.did), ...(kind.also && random() < 0.35 ? [pick(kind.also)] : [])],
          consequence: [pick(kind.after)],
          "setting event": random() < 0.12 ? ["slept badly"] : [],
        },
        details: {
          ...emptyDetails,
          length: { band },
          intensity: strength[0] + Math.floor(random() * (strength[1] - strength[0] + 1)),
          resolved,
          resolvedMinutes: resolved && random() < 0.6 ? band.from + Math.ceil(random() * 6) : null,
        },
        note: kind.notes && random() < 0.15 ? pick(kind.notes) : null,
      });
    }
  return made;
}
