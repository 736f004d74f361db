import type { MeasureSetUpOf } from "../set-up-form.ts";

export const durationSetUp: MeasureSetUpOf<"duration"> = {
  read: (values) => ({ report: values["report"] || "total" }),
  write: ({ report }) => ({ report }),
};
