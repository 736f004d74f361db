import { type Mark, secondsBetween, secondsOn, standingMarks, stretches } from "../marks/mark.ts";

/** The marks of a panel when they are read. */
export interface Marked {
  marks: readonly Mark[];
  /** Milliseconds since 1970: clocks that still run are read here. */
  now: number;
  /** False keeps a grid or chain that was broken off as *not finished*. */
  finished: boolean;
  /** What stands at each thing that holds one choice. */
  stand: ReadonlyMap<string, string>;
  /** The values of every mark on one thing, in their order. */
  valuesOn: (thing: string) => string[];
  /** Seconds since the first mark. */
  moment: (at: number) => number;
}

/** Reads what was observed from the marks of one kind's panel, without its kind; null where nothing of it is marked. */
export type FromMarks<M> = (measure: M, marked: Marked) => Record<string, unknown> | null;

/** The marks ready to be read; null where there is none. */
export function markedOf(marks: readonly Mark[], now: number, finished: boolean): Marked | null {
  const first = marks[0]?.at;
  if (first === undefined) return null;
  return {
    ...{ marks, now, finished },
    stand: standingMarks(marks),
    valuesOn: (thing) => marks.filter(({ on }) => on === thing).map(({ value }) => value),
    moment: (at) => secondsBetween(first, at),
  };
}

/** A number as it was typed on a panel; undefined where nothing is, NaN where it is none. */
export function typedNumber(text: string | undefined): number | undefined {
  const typed = text?.trim().replace(",", ".") ?? "";
  return typed === "" ? undefined : /^\d{1,7}(\.\d+)?$/.test(typed) ? Number(typed) : Number.NaN;
}

/** The time observed: what its clock says, or what was typed instead; undefined where neither is. */
export function clockedSeconds({ marks, now, stand }: Marked): number | undefined {
  const typed = stand.get("observed");
  if (typed) return Number(typed);
  const seconds = secondsOn(stretches(marks, "clock"), now);
  return seconds > 0 ? seconds : undefined;
}
