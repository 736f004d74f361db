import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { FluencyMeasure, FluencyEntry } from "./schema.ts";

export const fluencyDetails: KindDetails<FluencyMeasure, FluencyEntry> = {
  ...plainDetails,
  sideFigures: () => [
    { figure: "accuracy", label: "accuracy", unit: "percent", better: "increase" },
    { figure: "errorsPerMinute", label: "errors a minute", unit: "per minute", better: "decrease" },
  ],
};
