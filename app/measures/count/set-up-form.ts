import { filled, type MeasureSetUpOf } from "../set-up-form.ts";

export const countSetUp: MeasureSetUpOf<"count"> = {
  read: (values) => ({
    per: values["per"] || "observation",
    counted: filled(values["counted"]) ?? undefined,
  }),
  write: ({ per, counted }) => ({ per, counted: counted ?? "" }),
};
