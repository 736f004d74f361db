import { lines } from "#app/ui/lines.ts";
import { type MeasureSetUpOf } from "../set-up-form.ts";

export const checklistSetUp: MeasureSetUpOf<"checklist"> = {
  read: (values) => ({ items: lines(values["parts"]) }),
  write: ({ items }) => ({ parts: items.join("\n") }),
  fieldOf: { items: "parts" },
};
