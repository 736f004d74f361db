import { lines } from "#app/ui/lines.ts";
import { filled, readLadder, type MeasureSetUpOf, writeLadder } from "../set-up-form.ts";

export const stepsSetUp: MeasureSetUpOf<"steps"> = {
  read: (values) => ({
    steps: lines(values["parts"]),
    ...readLadder(values),
    teaching: filled(values["teaching"]) ?? undefined,
  }),
  write: (measure) => ({
    ...writeLadder(measure),
    parts: measure.steps.join("\n"),
    teaching: measure.teaching ?? "",
  }),
  fieldOf: { steps: "parts" },
};
