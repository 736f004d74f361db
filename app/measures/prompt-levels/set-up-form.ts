import { readFieldNumber, readLadder, type MeasureSetUpOf, writeLadder } from "../set-up-form.ts";

export const promptLevelsSetUp: MeasureSetUpOf<"supports"> = {
  read(values) {
    const ladder = readLadder(values);
    const left = ladder.misses.filter((_, index) => values[`leaveOut.${index}`] === "yes");
    return {
      ...ladder,
      ...(left.length > 0 ? { countMisses: ladder.misses.filter((miss) => !left.includes(miss)) } : {}),
      planned: readFieldNumber(values["planned"]),
    };
  },
  write: (measure) => ({
    ...writeLadder(measure),
    ...Object.fromEntries(
      measure.misses.flatMap((miss, index) =>
        measure.countMisses && !measure.countMisses.includes(miss) ? [[`leaveOut.${index}`, "yes"]] : [],
      ),
    ),
  }),
};
