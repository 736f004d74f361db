import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { IntervalsMeasure, IntervalsEntry } from "./schema.ts";

const methodWords = {
  partial: "partial interval",
  whole: "whole interval",
  momentary: "momentary time sampling",
};

export const intervalsDetails: KindDetails<IntervalsMeasure, IntervalsEntry> = {
  ...plainDetails,
  facts: ({ method }, { marks }) => [
    { label: "Method", value: methodWords[method] },
    { label: "In order", value: marks.replaceAll("-", "·").replaceAll("1", "✓").replaceAll("0", "–") },
  ],
};
