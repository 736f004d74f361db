import { lengthOfTime } from "../../words/amounts.ts";
import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { LatencyMeasure, LatencyEntry } from "./schema.ts";

export const latencyDetails: KindDetails<LatencyMeasure, LatencyEntry> = {
  ...plainDetails,
  better: ({ report }) => (report === "within" ? "increase" : "decrease"),
  sideFigures: () => [{ figure: "noResponse", label: "no responses", unit: "count", better: "decrease" }],
  facts: (_, { delaysSeconds, noResponse = 0 }) => [
    { label: "Delays", value: delaysSeconds.map(lengthOfTime).join(", ") || "none" },
    ...(noResponse > 0 ? [{ label: "No response", value: String(noResponse) }] : []),
  ],
};
