import { filled, withKeptId, readFieldNumber, type MeasureSetUpOf, setUpRows } from "../set-up-form.ts";

export const outcomesSetUp: MeasureSetUpOf<"outcomes"> = {
  read: (values) => ({
    outcomes: setUpRows.flatMap((row) => {
      const label = filled(values[`outcome.${row}.label`]);
      return label === null
        ? []
        : [
            {
              ...withKeptId(label, values[`outcome.${row}.id`]),
              credit: readFieldNumber(values[`outcome.${row}.credit`]) ?? Number.NaN,
            },
          ];
    }),
  }),
  write: ({ outcomes }) =>
    Object.fromEntries(
      outcomes.flatMap(({ id, label, credit }, row) => [
        [`outcome.${row}.id`, id],
        [`outcome.${row}.label`, label ?? id],
        [`outcome.${row}.credit`, String(credit)],
      ]),
    ),
};
