import { kindNames } from "#core/measures/kind-names.ts";
import type { ComponentType } from "react";
import { isMeasureKind, type MeasureKind, measureKinds } from "#core/measures/measure.ts";
import { ChecklistFields } from "#app/measures/checklist/set-up-fields.tsx";
import { CountFields } from "#app/measures/count/set-up-fields.tsx";
import { DurationFields } from "#app/measures/duration/set-up-fields.tsx";
import { FluencyFields } from "#app/measures/fluency/set-up-fields.tsx";
import { IntervalsFields } from "#app/measures/intervals/set-up-fields.tsx";
import { LatencyFields } from "#app/measures/latency/set-up-fields.tsx";
import { OutcomesFields } from "#app/measures/outcomes/set-up-fields.tsx";
import { RubricFields } from "#app/measures/rubric/set-up-fields.tsx";
import { RunningTotalFields } from "#app/measures/running-total/set-up-fields.tsx";
import { SkillsFields } from "#app/measures/skills/set-up-fields.tsx";
import { StepsFields } from "#app/measures/steps/set-up-fields.tsx";
import { PromptLevelsFields } from "#app/measures/prompt-levels/set-up-fields.tsx";
import { TrialsFields } from "#app/measures/trials/set-up-fields.tsx";
import type { MeasureFieldsProps } from "#app/measures/ladder-fields.tsx";
import { ChoiceField, useSetUp } from "./fields.tsx";

/** What each kind needs to know. */
const fields: Record<MeasureKind, ComponentType<MeasureFieldsProps>> = {
  trials: TrialsFields,
  supports: PromptLevelsFields,
  skills: SkillsFields,
  checklist: ChecklistFields,
  steps: StepsFields,
  count: CountFields,
  duration: DurationFields,
  latency: LatencyFields,
  intervals: IntervalsFields,
  fluency: FluencyFields,
  rubric: RubricFields,
  outcomes: OutcomesFields,
  "running-total": RunningTotalFields,
};

const kindOptions = [
  ["", "Choose …"] as const,
  ...measureKinds.map((kind) => [kind, kindNames[kind].name] as const),
];

/** How the goal is measured: the kind, and what that kind needs to know. */
export function MeasureFields({ ladders }: MeasureFieldsProps) {
  const { values } = useSetUp();
  const kind = values["kind"];
  const known = isMeasureKind(kind);
  const Fields = known ? fields[kind] : null;
  return (
    <>
      <ChoiceField
        name="kind"
        label="Kind"
        options={kindOptions}
        hint={known ? kindNames[kind].when : "The wording does not say how it is measured."}
      />
      {Fields ? <Fields ladders={ladders} /> : null}
    </>
  );
}
