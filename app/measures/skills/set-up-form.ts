import { lines } from "#app/ui/lines.ts";
import { readLadder, type MeasureSetUpOf, writeLadder } from "../set-up-form.ts";

export const skillsSetUp: MeasureSetUpOf<"skills"> = {
  read: (values) => ({ skills: lines(values["parts"]), ...readLadder(values) }),
  write: (measure) => ({ ...writeLadder(measure), parts: measure.skills.join("\n") }),
  fieldOf: { skills: "parts" },
};
