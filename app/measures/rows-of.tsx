import type { ComponentType } from "react";
import type { Measure } from "#core/measures/measure.ts";
import { ChecklistRows } from "./checklist/rows.tsx";
import { OutcomesRows } from "./outcomes/rows.tsx";
import type { FieldsProps } from "./rows.tsx";
import { RubricRows } from "./rubric/rows.tsx";
import { SkillsRows } from "./skills/rows.tsx";
import { StepsRows } from "./steps/rows.tsx";

/** The kinds that are marked in rows. */
const rows = {
  skills: SkillsRows,
  checklist: ChecklistRows,
  steps: StepsRows,
  rubric: RubricRows,
  outcomes: OutcomesRows,
};
export type RowKind = keyof typeof rows;
export type RowMeasure = Extract<Measure, { kind: RowKind }>;
export const isInRows = (measure: Measure): measure is RowMeasure => measure.kind in rows;

/** The rows of a kind that is marked in rows: the same in a sitting and in a form. */
export function RowsOf(props: FieldsProps & { measure: RowMeasure }) {
  const Rows = rows[props.measure.kind] as ComponentType<FieldsProps & { measure: Measure }>;
  return <Rows {...props} />;
}
