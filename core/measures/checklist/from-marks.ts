import type { ChecklistMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";

/** The items known, and those probed where that was not all. */
export const checklistFromMarks: FromMarks<ChecklistMeasure> = (measure, { stand }) => {
  const said = measure.items.map((item, index) => ({ item, said: stand.get(`row.${index}`) ?? "" }));
  const probed = said.filter((one) => one.said !== "").map(({ item }) => item);
  if (probed.length === 0) return null;
  return {
    known: said.filter((one) => one.said === "1").map(({ item }) => item),
    ...(probed.length === measure.items.length ? {} : { probed }),
  };
};
