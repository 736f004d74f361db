import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import { promptLevelsEntryFromMarks } from "#core/measures/prompt-levels/prompt-levels.ts";
import { roughlyNormal } from "./random.ts";

type Random = () => number;

const bounded = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
const wholeIn = (value: number, low: number, high: number) => Math.round(bounded(value, low, high));

/** Marks in some order that add up to the score. */
function shuffled<T>(list: readonly T[], random: Random): T[] {
  return list
    .map((item) => ({ item, at: random() }))
    .sort((a, b) => a.at - b.at)
    .map(({ item }) => item);
}

/** A mark for a part that is credited with this chance: the first level, else help in small steps, now and then a miss. */
function markFor(
  measure: { levels: string[]; misses: string[]; credited: string },
  chance: number,
  random: Random,
): string {
  const { levels, misses, credited } = measure;
  const last = levels.indexOf(credited);
  if (random() < chance) return levels[Math.floor(random() * random() * (last + 1))] ?? credited;
  if (misses.length > 0 && random() < 0.12) return misses[Math.floor(random() * misses.length)] ?? credited;
  const rest = levels.slice(last + 1);
  return rest[Math.floor(random() * random() * rest.length)] ?? misses[0] ?? credited;
}

/** Marks of which so many need no help and so many are credited, as evenly as their number allows, in some order. */
function fadingHelp(
  measure: { levels: string[]; credited: string; planned?: number | undefined },
  { chance, alone }: { chance: number; alone: number },
  random: Random,
): string[] {
  const { levels, credited, planned = 5 } = measure;
  const last = levels.indexOf(credited);
  const within = (from: number, to: number) =>
    levels[from + Math.floor(random() * (to - from + 1))] ?? credited;
  const start = random();
  return shuffled(
    Array.from({ length: planned }, (_, at) => {
      const place = (at + start) / planned;
      if (place < alone) return levels[0] ?? credited;
      return place < chance ? within(1, last) : within(last + 1, levels.length - 1);
    }),
    random,
  );
}

/**
 * An invented observation at about this level.
 *
 * @param level in the unit of the measure; percent where it is scored in percent
 * @param spread how much easier (above 0) or harder each part is than the whole, in points
 * @param alone in how many of a hundred opportunities no help is needed, where that is told apart from the level
 */
export function observed(
  measure: Measure,
  level: number,
  random: Random,
  { spread = [], alone = null }: { spread?: readonly number[]; alone?: number | null } = {},
): ObservedEntry {
  const chance = (index: number) => bounded((level + (spread[index] ?? 0)) / 100, 0, 1);
  switch (measure.kind) {
    case "trials": {
      const attempted = measure.planned ?? 10;
      const correct = wholeIn((level / 100) * attempted, 0, attempted);
      const sequence = shuffled(
        Array.from({ length: attempted }, (_, at) => (at < correct ? "1" : "0")),
        random,
      );
      return { kind: "trials", correct, attempted, sequence: sequence.join("") };
    }
    case "supports":
      return promptLevelsEntryFromMarks(
        alone === null
          ? Array.from({ length: measure.planned ?? 5 }, () => markFor(measure, chance(0), random))
          : fadingHelp(measure, { chance: chance(0), alone: alone / 100 }, random),
      );
    case "skills":
      return {
        kind: "skills",
        marks: Object.fromEntries(
          measure.skills.map((skill, at) => [skill, markFor(measure, chance(at), random)]),
        ),
      };
    case "steps":
      return { kind: "steps", marks: measure.steps.map((_, at) => markFor(measure, chance(at), random)) };
    case "checklist":
      return { kind: "checklist", known: measure.items.filter((_, at) => random() < chance(at)) };
    case "count":
      return {
        kind: "count",
        count: wholeIn(level, 0, 60),
        ...(measure.per === "observation" ? {} : { observedSeconds: 1200 }),
      };
    case "duration": {
      const bouts = 1 + Math.floor(random() * 3);
      const total = Math.max(20, level);
      return {
        kind: "duration",
        boutsSeconds: Array.from({ length: bouts }, () => Math.round(total / bouts)),
        observedSeconds: 1500,
      };
    }
    case "latency": {
      if (measure.report !== "within") {
        const delays = Array.from({ length: 6 }, () =>
          Math.round(Math.max(4, level * (0.6 + 0.8 * random()))),
        );
        // On a bad day most directions are refused.
        const noResponse = random() < 0.16 ? 4 : random() < 0.4 ? 1 : 0;
        return {
          kind: "latency",
          delaysSeconds: delays.slice(noResponse),
          ...(noResponse ? { noResponse } : {}),
        };
      }
      const within = measure.withinSeconds ?? 30;
      const signals = 8;
      const inTime = wholeIn((level / 100) * signals, 0, signals);
      const delays = Array.from({ length: signals }, (_, at) =>
        Math.round(at < inTime ? within * (0.2 + 0.75 * random()) : within * (1.2 + 1.5 * random())),
      );
      const noResponse = inTime < 5 && random() < 0.4 ? 1 : 0;
      return {
        kind: "latency",
        delaysSeconds: shuffled(delays, random).slice(noResponse),
        ...(noResponse ? { noResponse } : {}),
      };
    }
    case "intervals": {
      const planned = measure.planned ?? 20;
      const seen = wholeIn((level / 100) * planned, 0, planned);
      const marks = shuffled(
        Array.from({ length: planned }, (_, at) => (at < seen ? "1" : "0")),
        random,
      );
      return { kind: "intervals", marks: marks.map((mark) => (random() < 0.03 ? "-" : mark)).join("") };
    }
    case "fluency": {
      const errors = wholeIn(4 + 2 * roughlyNormal(random), 0, 12);
      return { kind: "fluency", attempted: Math.round(level) + errors, errors, seconds: 60 };
    }
    case "rubric":
      return {
        kind: "rubric",
        levels: Object.fromEntries(
          measure.criteria.map(({ id, max }, at) => [
            id,
            wholeIn(chance(at) * max + 0.4 * roughlyNormal(random), 0, max),
          ]),
        ),
      };
    case "outcomes": {
      if (random() < 0.06)
        return { kind: "outcomes", outcome: "other", note: "The bell rang before it was over." };
      const wanted = level + 25 * roughlyNormal(random);
      const nearest = [...measure.outcomes].sort(
        (a, b) => Math.abs(a.credit - wanted) - Math.abs(b.credit - wanted),
      )[0];
      return { kind: "outcomes", outcome: nearest?.id ?? "other" };
    }
    case "running-total":
      return { kind: "running-total", amount: 5 * wholeIn(level / 5, 1, 12) };
  }
}
