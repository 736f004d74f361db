import { type ComponentType, useEffect, useRef } from "react";
import type { MeasureKind } from "#core/measures/measure.ts";
import { CountPad } from "./count/pad.tsx";
import { DurationPad } from "./duration/pad.tsx";
import type { MeasureOf } from "./entry-form.ts";
import { FluencyPad } from "./fluency/pad.tsx";
import { IntervalsPad } from "./intervals/pad.tsx";
import { LatencyPad } from "./latency/pad.tsx";
import type { PadProps } from "./pad.ts";
import { RowsPad } from "./rows-pad.tsx";
import { RunningTotalPad } from "./running-total/pad.tsx";
import { PromptLevelsPad } from "./prompt-levels/pad.tsx";
import { TrialsPad } from "./trials/pad.tsx";
import { markSaid } from "#core/sitting/mark-said.ts";
import { say } from "#app/ui/say.ts";

/** The recording panel of each kind. */
const pads: { [Kind in MeasureKind]: ComponentType<PadProps<MeasureOf<Kind>>> } = {
  trials: TrialsPad,
  supports: PromptLevelsPad,
  skills: RowsPad,
  checklist: RowsPad,
  steps: RowsPad,
  count: CountPad,
  duration: DurationPad,
  latency: LatencyPad,
  intervals: IntervalsPad,
  fluency: FluencyPad,
  rubric: RowsPad,
  outcomes: RowsPad,
  "running-total": RunningTotalPad,
};

/** Each mark is heard, and each undo, with the student's name: what a key does is seen only by who looks. */
function useHeard({ measure, sheet, store }: PadProps): void {
  const { marks, studentId, goal } = sheet;
  const before = useRef(marks);
  useEffect(() => {
    const said = marks === before.current ? "" : markSaid(measure, marks, before.current, goal.planned);
    before.current = marks;
    const student = store.sitting().students.find((one) => one.studentId === studentId);
    if (said !== "") say(student ? `${student.screenName}, ${said}` : said);
  }, [measure, marks, studentId, goal, store]);
}

/** The recording panel of a measure: in a sitting, in the form of a single entry, and tried in the set-up. */
export function PadOf(props: PadProps) {
  useHeard(props);
  const Pad = pads[props.measure.kind] as ComponentType<PadProps>;
  return <Pad {...props} />;
}
