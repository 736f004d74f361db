import { useCallback } from "react";
import type { TrialsMeasure } from "#core/measures/trials/trials.ts";
import { mark } from "#app/recording/sitting/use-sitting.ts";
import type { PadProps } from "../pad.ts";
import { TrialPad, TrialTally } from "./trial-pad.tsx";

export function TrialsPad({ sheet, store }: PadProps<TrialsMeasure>) {
  const { planned, goalId } = sheet.goal;
  const marks = sheet.marks.flatMap(({ on, value }) => (on === "trial" ? [value] : [])).join("");
  return (
    <div className="flex flex-1 flex-col gap-3">
      <div>
        <TrialTally marks={marks} planned={planned} />
      </div>
      <TrialPad
        mark={useCallback((value: "0" | "1") => mark(store, goalId, "trial", value), [store, goalId])}
      />
    </div>
  );
}
