import { readFieldTime, type MeasureSetUpOf, timeText } from "../set-up-form.ts";

export const latencySetUp: MeasureSetUpOf<"latency"> = {
  read: (values) => ({
    report: values["report"] || "within",
    withinSeconds: readFieldTime(values["within"]),
  }),
  write: ({ report, withinSeconds }) => ({
    report,
    within: withinSeconds ? timeText(withinSeconds) : "",
  }),
  fieldOf: { withinSeconds: "within" },
};
