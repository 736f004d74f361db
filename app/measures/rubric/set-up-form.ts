import { lines } from "#app/ui/lines.ts";
import { filled, withKeptId, readFieldNumber, type MeasureSetUpOf, setUpRows } from "../set-up-form.ts";

export const rubricSetUp: MeasureSetUpOf<"rubric"> = {
  read: (values) => ({
    criteria: setUpRows.flatMap((row) => {
      const label = filled(values[`criterion.${row}.label`]);
      if (label === null) return [];
      const levels = lines(values[`criterion.${row}.levels`]);
      return [
        {
          ...withKeptId(label, values[`criterion.${row}.id`]),
          max: readFieldNumber(values[`criterion.${row}.max`]) ?? Math.max(levels.length, 1),
          ...(levels.length > 0 ? { levels } : {}),
        },
      ];
    }),
  }),
  write: ({ criteria }) =>
    Object.fromEntries(
      criteria.flatMap(({ id, label, max, levels }, row) => [
        [`criterion.${row}.id`, id],
        [`criterion.${row}.label`, label ?? id],
        [`criterion.${row}.max`, String(max)],
        [`criterion.${row}.levels`, (levels ?? []).join("\n")],
      ]),
    ),
};
