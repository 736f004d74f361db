import type { Measure, ObservedEntry } from "../measures/measure.ts";

/** What one observer recorded, and when their first mark was: milliseconds since 1970. */
export interface Account {
  entry: ObservedEntry;
  at: number;
}

/** What two observers gave the same units, in the shape of one method of agreement. */
export type MatchedUnits =
  | { kind: "trial"; pairs: [string, string][]; units?: string[] }
  | { kind: "interval"; pairs: ["0" | "1", "0" | "1"][] }
  | { kind: "count"; pairs: [number, number][]; windowSeconds: number | null }
  | { kind: "duration"; pairs: [number, number][] };

/** Stands for a missing mark of one observer; it agrees only with another missing mark. */
export const missing = "not marked";

const longest = <T>(first: readonly T[], second: readonly T[]) =>
  Array.from({ length: Math.max(first.length, second.length) }, (_, index) => index);

function inOrder(first: readonly string[], second: readonly string[]): [string, string][] {
  return longest(first, second).map((index) => [first[index] ?? missing, second[index] ?? missing]);
}

/** Marks of named parts; a part that neither marked is no unit. */
function byPart(
  parts: readonly string[],
  first: (part: string, index: number) => string,
  second: (part: string, index: number) => string,
): MatchedUnits {
  const named = parts
    .map((part, index) => ({ part, pair: [first(part, index), second(part, index)] as [string, string] }))
    .filter(({ pair }) => pair.some((mark) => mark !== missing));
  return { kind: "trial", pairs: named.map(({ pair }) => pair), units: named.map(({ part }) => part) };
}

/**
 * Counts by time window: minutes, or ten seconds where the two together watched for less than five minutes.
 */
function byWindow(first: readonly number[], second: readonly number[], from: number, to: number) {
  const windowSeconds = to - from < 300_000 ? 10 : 60;
  const step = windowSeconds * 1000;
  const windows = Math.max(1, Math.ceil((to - from) / step));
  const countIn = (times: readonly number[], index: number) =>
    times.filter((time) => Math.min(windows - 1, Math.floor((time - from) / step)) === index).length;
  return {
    windowSeconds,
    pairs: Array.from({ length: windows }, (_, index): [number, number] => [
      countIn(first, index),
      countIn(second, index),
    ]),
  };
}

interface Bout {
  from: number;
  seconds: number;
}

/** Bouts that overlap most belong together, each to one; a bout that the other did not see stands against 0. */
function byOverlap(first: readonly Bout[], second: readonly Bout[]): [number, number][] {
  const overlaps = first
    .flatMap((one, i) =>
      second.map((other, j) => ({
        i,
        j,
        shared:
          Math.min(one.from + one.seconds * 1000, other.from + other.seconds * 1000) -
          Math.max(one.from, other.from),
      })),
    )
    .filter(({ shared }) => shared > 0)
    .sort((a, b) => b.shared - a.shared);
  const partner = new Map<number, number>();
  const taken = new Set<number>();
  for (const { i, j } of overlaps) {
    if (partner.has(i) || taken.has(j)) continue;
    partner.set(i, j);
    taken.add(j);
  }
  return [
    ...first.map(({ seconds }, i): [number, number] => [seconds, second[partner.get(i) ?? -1]?.seconds ?? 0]),
    ...second.flatMap(({ seconds }, j): [number, number][] => (taken.has(j) ? [] : [[0, seconds]])),
  ];
}

/**
 * Matches what two observers recorded of the same goal at the same time, mark by mark: trials and prompt levels by their
 * order, rows by their names, counts by time window, bouts by overlap, intervals by the time they began. What one of them
 * missed is a disagreement; an interval that one of them did not observe is no unit, and neither is a row that neither
 * marked.
 *
 * @param measure the goal's measure when it was recorded
 * @returns the units, for `trialAgreement`, `intervalAgreement`, `countAgreement` or `durationAgreement`; null where the
 *   entries are not of this measure
 *
 * Source: units of interobserver agreement after Cooper, Heron & Heward, Applied Behavior Analysis; windows and the
 * matching of bouts are ours.
 */
export function matchObservers(measure: Measure, first: Account, second: Account): MatchedUnits | null {
  const [one, other] = [first.entry, second.entry];
  const start = (account: Account, seconds: number) => account.at + seconds * 1000;
  if (one.kind === "trials" && other.kind === "trials")
    return one.sequence !== undefined && other.sequence !== undefined
      ? { kind: "trial", pairs: inOrder([...one.sequence], [...other.sequence]) }
      : { kind: "count", pairs: [[one.correct, other.correct]], windowSeconds: null };
  if (one.kind === "supports" && other.kind === "supports") {
    if (one.sequence !== undefined && other.sequence !== undefined)
      return { kind: "trial", pairs: inOrder(one.sequence, other.sequence) };
    const levels = [...new Set([...Object.keys(one.counts), ...Object.keys(other.counts)])];
    return {
      kind: "count",
      pairs: levels.map((level) => [one.counts[level] ?? 0, other.counts[level] ?? 0]),
      windowSeconds: null,
    };
  }
  if (measure.kind === "skills" && one.kind === "skills" && other.kind === "skills")
    return byPart(
      measure.skills,
      (skill) => one.marks[skill] ?? missing,
      (skill) => other.marks[skill] ?? missing,
    );
  if (measure.kind === "steps" && one.kind === "steps" && other.kind === "steps")
    return byPart(
      measure.steps,
      (_, index) => one.marks[index] ?? missing,
      (_, index) => other.marks[index] ?? missing,
    );
  if (measure.kind === "checklist" && one.kind === "checklist" && other.kind === "checklist") {
    const said =
      ({ known, probed }: typeof one) =>
      (item: string) =>
        known.includes(item) ? "known" : (probed ?? measure.items).includes(item) ? "not yet" : missing;
    return byPart(measure.items, said(one), said(other));
  }
  if (measure.kind === "rubric" && one.kind === "rubric" && other.kind === "rubric") {
    const said =
      ({ levels }: typeof one) =>
      (id: string) =>
        String(levels[id] ?? missing);
    return byPart(
      measure.criteria.map(({ id }) => id),
      said(one),
      said(other),
    );
  }
  if (one.kind === "outcomes" && other.kind === "outcomes")
    return { kind: "trial", pairs: [[one.outcome, other.outcome]] };
  if (measure.kind === "intervals" && one.kind === "intervals" && other.kind === "intervals") {
    const shift = Math.round((second.at - first.at) / (measure.intervalSeconds * 1000));
    const seen = (mark: string | undefined): "0" | "1" | null => (mark === "0" || mark === "1" ? mark : null);
    return {
      kind: "interval",
      pairs: [...one.marks].flatMap((mark, index): ["0" | "1", "0" | "1"][] => {
        const [mine, theirs] = [seen(mark), seen(other.marks[index - shift])];
        return mine === null || theirs === null ? [] : [[mine, theirs]];
      }),
    };
  }
  if (one.kind === "count" && other.kind === "count") {
    if (!one.atSeconds || !other.atSeconds)
      return { kind: "count", pairs: [[one.count, other.count]], windowSeconds: null };
    const times = (account: Account, seconds: readonly number[]) =>
      seconds.map((each) => start(account, each));
    const [mine, theirs] = [times(first, one.atSeconds), times(second, other.atSeconds)];
    const ends = [
      ...mine,
      ...theirs,
      start(first, one.observedSeconds ?? 0),
      start(second, other.observedSeconds ?? 0),
    ];
    return { kind: "count", ...byWindow(mine, theirs, Math.min(first.at, second.at), Math.max(...ends)) };
  }
  if (one.kind === "duration" && other.kind === "duration") {
    const bouts = (account: Account, { boutsSeconds, startsSeconds }: typeof one) =>
      startsSeconds &&
      boutsSeconds.map((seconds, index) => ({ seconds, from: start(account, startsSeconds[index] ?? 0) }));
    const [mine, theirs] = [bouts(first, one), bouts(second, other)];
    return {
      kind: "duration",
      pairs:
        mine && theirs
          ? byOverlap(mine, theirs)
          : longest(one.boutsSeconds, other.boutsSeconds).map((index) => [
              one.boutsSeconds[index] ?? 0,
              other.boutsSeconds[index] ?? 0,
            ]),
    };
  }
  if (one.kind === "latency" && other.kind === "latency")
    return {
      kind: "duration",
      pairs: longest(one.delaysSeconds, other.delaysSeconds).map((index) => [
        one.delaysSeconds[index] ?? 0,
        other.delaysSeconds[index] ?? 0,
      ]),
    };
  if (one.kind === "fluency" && other.kind === "fluency")
    return {
      kind: "count",
      pairs: [[one.attempted - one.errors, other.attempted - other.errors]],
      windowSeconds: null,
    };
  if (one.kind === "running-total" && other.kind === "running-total")
    return { kind: "count", pairs: [[one.amount, other.amount]], windowSeconds: null };
  return null;
}
