import type { ChecklistMeasure } from "#core/measures/checklist/checklist.ts";
import { type FieldsProps, MarkRows, type RowOption } from "../rows.tsx";

const knownOptions: RowOption[] = [
  { value: "1", label: "known" },
  { value: "0", label: "not yet", miss: true },
];

export function ChecklistRows({
  measure,
  values,
  set,
  problems,
}: FieldsProps & { measure: ChecklistMeasure }) {
  const rows = measure.items.map((label, index) => ({
    name: `item.${index}`,
    label,
    options: knownOptions,
  }));
  return (
    <div className="mark-columns">
      <MarkRows
        rows={rows}
        values={values}
        set={set}
        problem={problems["known"] ?? problems["probed"]}
        rest={{ label: "Mark the rest as not yet", value: "0" }}
      />
      <p className="text-fine text-soft">Items left open were not probed and do not count.</p>
    </div>
  );
}
