import { readFieldTime, type MeasureSetUpOf, timeText } from "../set-up-form.ts";

export const fluencySetUp: MeasureSetUpOf<"fluency"> = {
  read: (values) => ({
    counted: values["counted"] || "words",
    plannedSeconds: readFieldTime(values["length"]),
  }),
  write: ({ counted, plannedSeconds }) => ({
    counted: counted ?? "words",
    length: plannedSeconds ? timeText(plannedSeconds) : "",
  }),
  fieldOf: { plannedSeconds: "length" },
};
