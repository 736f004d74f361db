import { filled, plain, readFieldNumber, type MeasureSetUpOf } from "../set-up-form.ts";

export const runningTotalSetUp: MeasureSetUpOf<"running-total"> = {
  read: (values) => ({
    target: readFieldNumber(values["target"]),
    unit: filled(values["unit"]) ?? "",
    startsAgain: filled(values["startsAgain"]) ?? undefined,
  }),
  write: ({ target, unit, startsAgain }) => ({
    target: plain(target),
    unit,
    startsAgain: startsAgain ?? "",
  }),
};
