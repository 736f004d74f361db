let underWay = 0;

/** Is something on its way to the disk of this device? */
export const isWriting = (): boolean => underWay > 0;

/** One writing after the other, each of what stands then. One that fails holds back none after it. */
export function writingInTurn() {
  let last: Promise<unknown> = Promise.resolve();
  return {
    write(work: () => Promise<unknown>): void {
      underWay += 1;
      last = last
        .then(work)
        .catch(() => undefined)
        .finally(() => (underWay -= 1));
    },
    /** Comes true once everything begun so far is done. */
    done: (): Promise<unknown> => last,
  };
}
