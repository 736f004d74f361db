import type { IntervalsMeasure } from "./intervals.ts";
import { type Mark, stretches } from "../../marks/mark.ts";

/** Where an interval observation stands at one moment. */
export interface IntervalClock {
  /** The interval to be marked now, from 0; null before the first may be marked and when all is over. */
  asks: number | null;
  /** How many intervals have come to their end. */
  ended: number;
  /** When the next signal comes, milliseconds since 1970; null when there is none any more. */
  nextAt: number | null;
  over: boolean;
}

/**
 * The intervals of an observation at a moment. Whole and partial intervals are marked while they run and until the next
 * one ends; a momentary sample is asked for at the end of each interval and may be marked until the next signal. A
 * clock that slept skips what passed: those intervals stay unmarked, which is *not observed*.
 *
 * @param now milliseconds since 1970
 * @returns null before it has started
 *
 * Source: interval recording and momentary time sampling, Cooper, Heron & Heward, Applied Behavior Analysis (from memory).
 */
export function intervalClock(
  { intervalSeconds, method, planned }: Pick<IntervalsMeasure, "intervalSeconds" | "method" | "planned">,
  marks: readonly Mark[],
  now: number,
): IntervalClock | null {
  const clock = stretches(marks, "clock")[0];
  if (!clock) return null;
  const step = intervalSeconds * 1000;
  const most = planned ?? Number.POSITIVE_INFINITY;
  const until = clock.to ?? now;
  const ended = Math.min(most, Math.max(0, Math.floor((until - clock.from) / step)));
  const lastMayBeMarkedUntil = clock.from + (most + 1) * step;
  const over = clock.to !== null || now >= lastMayBeMarkedUntil;
  const current = method === "momentary" ? ended - 1 : Math.min(ended, most - 1);
  return {
    asks: over || current < 0 ? null : current,
    ended,
    nextAt: over || ended >= most ? null : clock.from + (ended + 1) * step,
    over,
  };
}

/** The marks of all intervals that came to their end, or were marked, in order; `-` is *not observed*. */
export function intervalMarks(
  measure: Pick<IntervalsMeasure, "intervalSeconds" | "method" | "planned">,
  marks: readonly Mark[],
  now: number,
): string {
  const ended = intervalClock(measure, marks, now)?.ended ?? 0;
  const marked = new Map(
    marks.flatMap(({ on, value }): [number, string][] =>
      on.startsWith("interval.") ? [[Number(on.slice("interval.".length)), value]] : [],
    ),
  );
  const known = [...marked].filter(([, value]) => value !== "").map(([index]) => index + 1);
  const length = Math.max(ended, ...known, 0);
  return Array.from({ length }, (_, index) => marked.get(index) || "-").join("");
}
