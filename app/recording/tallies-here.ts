import { mergePresses, type Press } from "#core/sitting/tally.ts";
import type { OpenTally } from "#core/sync/kept.ts";
import type { Queued } from "#core/sync/queued.ts";

export type TallyItem = Extract<Queued, { kind: `tally ${string}` }>;

type Key = Pick<OpenTally, "goalId" | "on">;
const isSame = (one: Key) => (other: Key) => one.goalId === other.goalId && one.on === other.on;

/** The tallies once this was recorded here: what the server will say of them, said at once. `at` in milliseconds since 1970. */
export function withItem(
  tallies: readonly OpenTally[],
  item: TallyItem,
  { on, at, by }: { on: string; at: number; by: string },
): OpenTally[] {
  const { studentId, goalId } = item;
  if (item.kind === "tally back") {
    const taken = (press: Press) => (press.pressId === item.pressId ? { ...press, back: true } : press);
    return tallies.map((tally) => ({ ...tally, presses: tally.presses.map(taken) }));
  }
  if (item.kind === "tally close") return tallies.filter((tally) => !isSame({ goalId, on: item.on })(tally));
  const there = tallies.find(isSame({ goalId, on })) ?? { studentId, goalId, on, openedAt: at, presses: [] };
  const pressed: Press[] = item.kind === "tally press" ? [{ pressId: item.id, at, by, back: false }] : [];
  const next = { ...there, presses: mergePresses(there.presses, pressed) };
  return tallies.includes(there) ? tallies.map((one) => (one === there ? next : one)) : [...tallies, next];
}

/** What was recorded here while what is kept on the disk was still being read, put together with that. */
export function withKept(here: readonly OpenTally[], kept: readonly OpenTally[]): OpenTally[] {
  return [
    ...kept.map((tally) => {
      const known = here.find(isSame(tally));
      return known ? { ...tally, presses: mergePresses(tally.presses, known.presses) } : tally;
    }),
    ...here.filter((tally) => !kept.some(isSame(tally))),
  ];
}

/**
 * What the server said, put together with what is known here. A tally that only this device knows stays while the server may
 * not have heard of it; one that was closed here stays closed.
 *
 * @param unheard what the server may not know: what was not sent when it was asked, and what was recorded here since
 */
export function withAnswer(
  here: readonly OpenTally[],
  said: readonly OpenTally[],
  unheard: readonly Queued[],
): OpenTally[] {
  const closing = unheard.flatMap((item) => (item.kind === "tally close" ? [item] : []));
  const isUnheard = ({ goalId }: OpenTally) =>
    unheard.some((item) => item.kind.startsWith("tally") && "goalId" in item && item.goalId === goalId);
  const heard = said
    .filter((tally) => !closing.some(isSame(tally)))
    .map((tally) => ({
      ...tally,
      presses: mergePresses(tally.presses, here.find(isSame(tally))?.presses ?? []),
    }));
  return [...heard, ...here.filter((tally) => !said.some(isSame(tally)) && isUnheard(tally))];
}
