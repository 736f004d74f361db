import { lines } from "#app/ui/lines.ts";
import { clockTime, readLengthOfTime } from "#core/words/read-time.ts";
import type { MeasureKind } from "#core/measures/measure.ts";
import type { MeasureOf, Values } from "./entry-form.ts";

/** How a measure of one kind stands in the fields of a goal's set-up, both ways. The kind itself and `planned` are common to all. */
export interface MeasureSetUp<M> {
  /** The measure in the shape that `readMeasure` reads, without its kind. */
  read(values: Values): Record<string, unknown>;
  write(measure: M): Record<string, string>;
  /** Core's names of the measure's fields → the fields of the form, where they differ. */
  fieldOf?: Readonly<Record<string, string>>;
}
export type MeasureSetUpOf<Kind extends MeasureKind> = MeasureSetUp<MeasureOf<Kind>>;

/** What stands in a field; null where nothing does. */
export const filled = (text: string | undefined) => (text?.trim() ? text.trim() : null);

/** A number as it is typed, with or without a percent sign; nothing for nothing, NaN for what is none. */
export function readFieldNumber(text: string | undefined): number | undefined {
  const typed = filled(text)?.replace("%", "").replace(",", ".").trim();
  return typed === undefined ? undefined : /^-?\d+(\.\d+)?$/.test(typed) ? Number(typed) : Number.NaN;
}

/** A length of time as it is typed, in seconds; nothing for nothing, NaN for what is none. */
export function readFieldTime(text: string | undefined): number | undefined {
  const typed = filled(text);
  return typed === null ? undefined : (readLengthOfTime(typed) ?? Number.NaN);
}

export const plain = (value: number) => String(Math.round(value * 100) / 100);

/** A time as it is typed: 600 → "10 min", 45 → "45 s", 250 → "4:10". */
export function timeText(seconds: number): string {
  if (seconds > 0 && seconds % 60 === 0) return `${seconds / 60} min`;
  return seconds < 60 ? `${seconds} s` : clockTime(seconds);
}

/** How many rows of criteria or outcomes a form may hold. */
export const mostRows = 30;
export const setUpRows = Array.from({ length: mostRows }, (_, index) => index);

/** A criterion or outcome keeps its id when its name changes, so that its entries keep their meaning. */
export const withKeptId = (label: string, id: string | undefined): { id: string; label?: string } =>
  id && id !== label ? { id, label } : { id: label };

interface Ladder {
  levels: string[];
  misses: string[];
  credited: string;
}

export function readLadder(values: Values): Ladder {
  const levels = lines(values["levels"]);
  return { levels, misses: lines(values["misses"]), credited: values["credited"] || levels[0] || "" };
}

export const writeLadder = ({ levels, misses, credited }: Ladder) => ({
  levels: levels.join("\n"),
  misses: misses.join("\n"),
  credited,
});
