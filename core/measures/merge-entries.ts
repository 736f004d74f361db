import type { Measure, MeasureKind, ObservedEntry } from "./measure-schema.ts";

type EntryOf<Kind extends MeasureKind> = Extract<ObservedEntry, { kind: Kind }>;
type Merge<Kind extends MeasureKind> = (entries: readonly EntryOf<Kind>[]) => EntryOf<Kind>;

/** The sum of what every entry has; undefined where one of them lacks it. */
function summed(values: readonly (number | undefined)[]): number | undefined {
  const known = values.filter((value) => value !== undefined);
  return known.length === values.length ? known.reduce((sum, value) => sum + value, 0) : undefined;
}

const merges: { [Kind in MeasureKind]?: Merge<Kind> } = {
  count: (entries) => ({
    kind: "count",
    count: entries.reduce((sum, { count }) => sum + count, 0),
    observedSeconds: summed(entries.map(({ observedSeconds }) => observedSeconds)),
  }),
  duration: (entries) => ({
    kind: "duration",
    boutsSeconds: entries.flatMap(({ boutsSeconds }) => boutsSeconds),
    observedSeconds: summed(entries.map(({ observedSeconds }) => observedSeconds)),
  }),
  latency: (entries) => ({
    kind: "latency",
    delaysSeconds: entries.flatMap(({ delaysSeconds }) => delaysSeconds),
    noResponse: entries.reduce((sum, { noResponse = 0 }) => sum + noResponse, 0),
  }),
  fluency: (entries) => ({
    kind: "fluency",
    attempted: entries.reduce((sum, { attempted }) => sum + attempted, 0),
    errors: entries.reduce((sum, { errors }) => sum + errors, 0),
    seconds: entries.reduce((sum, { seconds }) => sum + seconds, 0),
  }),
};

/**
 * How the entries of one session, day, week or month are put together before they are scored: bouts, delays and events as if they had been
 * recorded in one. Apart from the kinds, since no recording screen needs it.
 *
 * @returns null for a kind whose scores are put together instead
 */
export const mergeOf = ({ kind }: Pick<Measure, "kind">): Merge<MeasureKind> | null =>
  (merges[kind] as Merge<MeasureKind> | undefined) ?? null;
