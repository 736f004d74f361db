import { ladderMarks } from "#core/measures/ladder.ts";
import type { Measure, MeasureKind, ObservedEntry } from "#core/measures/measure.ts";
import type { Problem } from "#core/measures/score.ts";
import { clockTime, readLengthOfTime } from "#core/words/read-time.ts";

/** What a form holds of an entry: field name → what stands in it. */
export type Values = Readonly<Record<string, string>>;

/** What a form says was observed, in the shape that core reads; or what no field can mean. */
export type RawEntry = { ok: true; raw: Record<string, unknown> } | { ok: false; problems: Problem[] };

/** A field in which an entry is typed. */
export interface EntryField {
  name: string;
  label: string;
  hint?: string;
  /** The fields of the entry whose problems stand beside it. */
  problemsOf?: readonly string[];
  /** A number pad is offered for it. */
  numeric?: boolean;
  /** Takes a whole line. */
  wide?: boolean;
  /** `tick`: yes or nothing; `hidden`: carried along unseen. Otherwise text. */
  as?: "tick" | "hidden";
}

/** How an entry of one kind stands in the fields of a form, both ways. */
export interface EntryForm<M, E> {
  /** The fields in which it is typed. Kinds that are marked in rows have their rows instead. */
  fields?(measure: M): EntryField[];
  /** Nothing is counted or timed while it happens: its panel is its field. */
  typedOnly?: true;
  /** What a fresh form holds already. */
  start?(measure: M): Values;
  read(measure: M, values: Values): RawEntry;
  write(measure: M, entry: E): Values;
  /** What was typed and what the panel counted on top of it, as one entry. Without it the panel's replaces what was typed. */
  add?(typed: E, counted: E): E;
}

export type MeasureOf<Kind extends MeasureKind> = Extract<Measure, { kind: Kind }>;
export type EntryOf<Kind extends MeasureKind> = Extract<ObservedEntry, { kind: Kind }>;
export type EntryFormOf<Kind extends MeasureKind> = EntryForm<MeasureOf<Kind>, EntryOf<Kind>>;

export const asRead = (raw: Record<string, unknown>): RawEntry => ({ ok: true, raw });
export const wrongField = (field: string, message: string): RawEntry => ({
  ok: false,
  problems: [{ field, message }],
});

/** A whole number as typed; undefined where nothing is, NaN where it is none. */
export function wholeNumber(text: string | undefined): number | undefined {
  const trimmed = text?.trim() ?? "";
  return trimmed === "" ? undefined : /^\d{1,7}$/.test(trimmed) ? Number(trimmed) : Number.NaN;
}

export const timeHelp = "Write a time as 4:10, 45 s or 20 min; several with commas between.";

/** Several times with commas between, in seconds; null where one of them is none. */
export function readTimes(text: string | undefined): number[] | null {
  const parts = (text ?? "").split(/[,;\n]+/).filter((part) => part.trim() !== "");
  const read = parts.map(readLengthOfTime);
  return read.some((seconds) => seconds === null) ? null : read.filter((seconds) => seconds !== null);
}

/** A time that may be left out: undefined where nothing is typed, null where it is none. */
export const optionalTime = (text: string | undefined): number | undefined | null =>
  text?.trim() ? readLengthOfTime(text) : undefined;

export const timeOrNothing = (seconds: number | undefined) =>
  seconds === undefined ? "" : clockTime(seconds);

/** Two lengths of time together; undefined where neither is known. */
export const secondsTogether = (one: number | undefined, other: number | undefined) =>
  one === undefined ? other : one + (other ?? 0);

/** "Broken off" as the button of a form says it. */
export const unfinished = (values: Values) => (values["finished"] === "no" ? { finished: false } : {});

/** The mark chosen in a row of a ladder; null where it is open. */
export const markAt = (
  measure: { levels: string[]; misses: string[] },
  values: Values,
  row: number,
): string | null => ladderMarks(measure)[wholeNumber(values[`mark.${row}`]) ?? -1] ?? null;

/** Marks of a ladder row by row, as the fields of a form. */
export function writeMarks(
  measure: { levels: string[]; misses: string[] },
  marks: readonly (string | null | undefined)[],
): Values {
  const ladder = ladderMarks(measure);
  return Object.fromEntries(
    marks.flatMap((mark, row) => {
      const at = ladder.indexOf(mark ?? "");
      return at === -1 ? [] : [[`mark.${row}`, String(at)]];
    }),
  );
}
