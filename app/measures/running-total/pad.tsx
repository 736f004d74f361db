import type { RunningTotalMeasure } from "#core/measures/running-total/running-total.ts";
import { valueAt } from "#app/recording/sitting/sheet.ts";
import { mark } from "#app/recording/sitting/use-sitting.ts";
import { Field } from "#app/ui/field.tsx";
import type { PadProps } from "../pad.ts";
import { runningTotalForm } from "./entry-form.ts";

/** The field of the form, with a pad for decimals. */
export function RunningTotalPad({ measure, sheet, store }: PadProps<RunningTotalMeasure>) {
  const { goalId } = sheet.goal;
  return runningTotalForm
    .fields?.(measure)
    .map(({ name, label, hint }) => (
      <Field
        key={name}
        label={label}
        name={`${name} ${goalId}`}
        inputMode="decimal"
        value={valueAt(sheet, name)}
        onChange={({ target }) => mark(store, goalId, name, target.value)}
        {...(hint ? { hint } : {})}
      />
    ));
}
