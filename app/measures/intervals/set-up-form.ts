import { readFieldNumber, readFieldTime, type MeasureSetUpOf, timeText } from "../set-up-form.ts";

export const intervalsSetUp: MeasureSetUpOf<"intervals"> = {
  read: (values) => ({
    method: values["method"] || "momentary",
    intervalSeconds: readFieldTime(values["interval"]),
    planned: readFieldNumber(values["planned"]),
  }),
  write: ({ method, intervalSeconds }) => ({ method, interval: timeText(intervalSeconds) }),
  fieldOf: { intervalSeconds: "interval" },
};
