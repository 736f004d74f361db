import { asRead, type EntryFormOf, wrongField } from "../entry-form.ts";

export const runningTotalForm: EntryFormOf<"running-total"> = {
  fields: ({ unit, target, startsAgain }) => [
    {
      name: "amount",
      label: `${unit.charAt(0).toUpperCase()}${unit.slice(1)} to add`,
      hint: `The target is ${target} ${unit}${startsAgain ? ` each ${startsAgain}` : ""}.`,
      wide: true,
    },
  ],
  typedOnly: true,
  read({ unit }, values) {
    const typed = (values["amount"] ?? "").trim().replace(",", ".");
    if (typed === "") return wrongField("amount", `How many ${unit}?`);
    return asRead({ amount: /^\d+(\.\d+)?$/.test(typed) ? Number(typed) : Number.NaN });
  },
  write: (_, { amount }) => ({ amount: String(amount) }),
};
