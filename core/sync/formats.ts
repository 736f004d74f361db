/**
 * The format of today of each thing that a device keeps or sends. Whoever changes the shape of one so that what is kept somewhere reads
 * otherwise raises its number and adds the step that makes the new of the old. The stored samples in the tests are of these formats.
 */
export const formats = { item: 1, sitting: 1, sheet: 1, pack: 1, tallies: 1, incident: 1, jot: 1 } as const;
export type KeptKind = keyof typeof formats;

/** One step from a format to the next, by the number of the earlier one. */
export type Upgrades = Readonly<Record<number, (content: unknown) => unknown>>;

/** The server reads, and a device keeps, every format of the last 60 days. An upgrade step may be deleted once its format is older. */
const upgrades: Readonly<Record<KeptKind, Upgrades>> = {
  item: {},
  sitting: {},
  sheet: {},
  pack: {},
  tallies: {},
  incident: {},
  jot: {},
};

/**
 * Content of an earlier format in the shape of `to`, step by step.
 *
 * @returns undefined where a step is missing, as for a format that is newer than this program
 */
export function upgraded(content: unknown, from: number, to: number, steps: Upgrades): unknown {
  if (from === to) return content;
  const step = steps[from];
  return from > to || !step ? undefined : upgraded(step(content), from + 1, to, steps);
}

/** Upgrades stored content of one kind to today's shape; undefined where this program cannot read its format. */
export const upgradedKind = (kind: KeptKind, format: number, content: unknown): unknown =>
  upgraded(content, format, formats[kind], upgrades[kind]);
