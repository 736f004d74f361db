import { asRead, type EntryFormOf } from "../entry-form.ts";

/** What is left open was not probed. */
export const checklistForm: EntryFormOf<"checklist"> = {
  read(measure, values) {
    const said = measure.items.map((item, row) => ({ item, said: values[`item.${row}`] }));
    const probed = said.filter((one) => one.said === "1" || one.said === "0").map(({ item }) => item);
    return asRead({
      known: said.filter((one) => one.said === "1").map(({ item }) => item),
      ...(probed.length === measure.items.length ? {} : { probed }),
    });
  },
  write(measure, entry) {
    const probed = entry.probed ?? measure.items;
    return Object.fromEntries(
      measure.items.flatMap((item, row) =>
        probed.includes(item) ? [[`item.${row}`, entry.known.includes(item) ? "1" : "0"]] : [],
      ),
    );
  },
};
