import type { Measure } from "../measures/measure.ts";
import { supportsEntryFromMarks } from "../measures/supports.ts";
import { trialsEntryFromMarks } from "../measures/trials.ts";
import { intervalMarks } from "./interval-clock.ts";
import { type Mark, secondsBetween, secondsOn, standing, stretches } from "./mark.ts";

/** The marks that a measure with a ladder offers: its levels from least to most help, then its misses. */
export function ladderMarks({ levels, misses }: { levels: string[]; misses: string[] }): string[] {
  return [...levels, ...misses];
}

const typedNumber = (text: string | undefined): number | undefined => {
  const typed = text?.trim().replace(",", ".") ?? "";
  return typed === "" ? undefined : /^\d{1,7}(\.\d+)?$/.test(typed) ? Number(typed) : Number.NaN;
};

/** The time observed: what its clock says, or what was typed instead; undefined where neither is. */
function observedSeconds(marks: readonly Mark[], now: number): number | undefined {
  const typed = standing(marks).get("observed");
  if (typed) return Number(typed);
  const seconds = secondsOn(stretches(marks, "clock"), now);
  return seconds > 0 ? seconds : undefined;
}

/** How long a timed reading lasted: its clock, at most the time planned. */
export function readingSeconds(
  { plannedSeconds }: { plannedSeconds?: number | undefined },
  marks: readonly Mark[],
  now: number,
): number {
  return Math.min(plannedSeconds ?? 60, secondsOn(stretches(marks, "clock"), now));
}

/**
 * What the marks of a panel say was observed, in the shape that `readEntry` reads. The order of trials, the moment of
 * each count and the start of each bout come along; moments are seconds since the first mark.
 *
 * @param now milliseconds since 1970: clocks that still run are read here
 * @param finished false keeps a grid or chain that was broken off as *not finished*
 * @returns null where nothing is marked: nothing measured is nothing stored
 */
export function observedFrom(
  measure: Measure,
  marks: readonly Mark[],
  now: number,
  finished = true,
): Record<string, unknown> | null {
  const first = marks[0]?.at;
  if (first === undefined) return null;
  const stand = standing(marks);
  const valuesOn = (thing: string) => marks.filter(({ on }) => on === thing).map(({ value }) => value);
  const moment = (at: number) => secondsBetween(first, at);
  const made = (raw: Record<string, unknown>) => ({ kind: measure.kind, ...raw });
  const broken = finished ? {} : { finished: false };
  switch (measure.kind) {
    case "trials": {
      const trials = valuesOn("trial");
      return trials.length === 0 ? null : made({ ...trialsEntryFromMarks(trials.map((one) => one === "1")) });
    }
    case "supports": {
      const named = ladderMarks(measure);
      const levels = valuesOn("level").map((index) => named[Number(index)] ?? "");
      return levels.length === 0 ? null : made({ ...supportsEntryFromMarks(levels) });
    }
    case "skills": {
      const named = ladderMarks(measure);
      const marked = measure.skills.flatMap((skill, index) => {
        const mark = named[Number(stand.get(`row.${index}`) || -1)];
        return mark === undefined ? [] : [[skill, mark] as const];
      });
      return marked.length === 0 ? null : made({ marks: Object.fromEntries(marked), ...broken });
    }
    case "steps": {
      const named = ladderMarks(measure);
      const each = measure.steps.map((_, index) => named[Number(stand.get(`row.${index}`) || -1)] ?? null);
      return each.every((mark) => mark === null) ? null : made({ marks: each, ...broken });
    }
    case "checklist": {
      const said = measure.items.map((item, index) => ({ item, said: stand.get(`row.${index}`) ?? "" }));
      const probed = said.filter((one) => one.said !== "").map(({ item }) => item);
      if (probed.length === 0) return null;
      return made({
        known: said.filter((one) => one.said === "1").map(({ item }) => item),
        ...(probed.length === measure.items.length ? {} : { probed }),
      });
    }
    case "count": {
      const presses = marks.filter(({ on }) => on === "press");
      const seconds = observedSeconds(marks, now);
      if (presses.length === 0 && seconds === undefined) return null;
      return made({
        count: presses.length,
        observedSeconds: seconds,
        atSeconds: presses.map(({ at }) => moment(at)),
      });
    }
    case "duration": {
      const bouts = stretches(marks, "bout");
      const seconds = observedSeconds(marks, now);
      if (bouts.length === 0 && stand.get("none") !== "1" && seconds === undefined) return null;
      const lengths = bouts.map(({ from, to }) => secondsBetween(from, to ?? now));
      const total = lengths.reduce((sum, length) => sum + length, 0);
      return made({
        boutsSeconds: lengths,
        startsSeconds: bouts.map(({ from }) => moment(from)),
        // Two clocks started by one thumb may differ by a tenth; a bout is never longer than its observation for that.
        observedSeconds: seconds !== undefined && total > seconds && total < seconds + 1 ? total : seconds,
      });
    }
    case "latency": {
      const delays: number[] = [];
      let noResponse = 0;
      let signal: number | null = null;
      for (const { at, on } of marks) {
        if (on === "signal") signal = at;
        else if (on === "response" && signal !== null) {
          delays.push(secondsBetween(signal, at));
          signal = null;
        } else if (on === "no response") {
          noResponse += 1;
          signal = null;
        }
      }
      return delays.length + noResponse === 0 ? null : made({ delaysSeconds: delays, noResponse });
    }
    case "intervals": {
      const each = intervalMarks(measure, marks, now);
      return each.replaceAll("-", "") === "" ? null : made({ marks: each });
    }
    case "fluency": {
      const attempted = typedNumber(stand.get("last"));
      const seconds = typedNumber(stand.get("seconds")) ?? readingSeconds(measure, marks, now);
      if (attempted === undefined && seconds === 0) return null;
      return made({ attempted, errors: valuesOn("error").length, seconds });
    }
    case "rubric": {
      const levels = measure.criteria.flatMap(({ id }, index) => {
        const level = stand.get(`row.${index}`) ?? "";
        return level === "" ? [] : [[id, Number(level)] as const];
      });
      const rater = stand.get("rater")?.trim();
      return levels.length === 0
        ? null
        : made({ levels: Object.fromEntries(levels), ...(rater ? { rater } : {}) });
    }
    case "outcomes": {
      const chosen = stand.get("row.0") ?? "";
      if (chosen === "") return null;
      const note = stand.get("instead")?.trim();
      return chosen === "other"
        ? made({ outcome: "other", ...(note ? { note } : {}) })
        : made({ outcome: measure.outcomes[Number(chosen)]?.id ?? "" });
    }
    case "running-total": {
      const amount = typedNumber(stand.get("amount"));
      return amount === undefined ? null : made({ amount });
    }
  }
}
