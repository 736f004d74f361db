import { clockTime } from "#core/words/read-time.ts";
import {
  asRead,
  type EntryFormOf,
  optionalTime,
  readTimes,
  secondsTogether,
  timeHelp,
  timeOrNothing,
  wrongField,
} from "../entry-form.ts";

export const durationForm: EntryFormOf<"duration"> = {
  fields: ({ report }) => [
    {
      name: "bouts",
      label: "Bouts",
      problemsOf: ["boutsSeconds", "startsSeconds"],
      hint: "As 4:10, 45 s or 2 min, with commas between.",
      wide: true,
    },
    { name: "none", label: "Observed, and there was no bout", as: "tick", wide: true },
    {
      name: "observed",
      label: "Observed for",
      problemsOf: ["observedSeconds"],
      hint: report === "share" ? "20 min or 4:10." : "May be left empty; 20 min or 4:10.",
      wide: true,
    },
  ],
  read(_, values) {
    const boutsSeconds = readTimes(values["bouts"]);
    const observedSeconds = optionalTime(values["observed"]);
    if (boutsSeconds === null) return wrongField("boutsSeconds", timeHelp);
    if (observedSeconds === null) return wrongField("observedSeconds", timeHelp);
    if (boutsSeconds.length === 0 && values["none"] !== "yes")
      return wrongField("boutsSeconds", "Give each bout, or say that there was none.");
    return asRead({ boutsSeconds, observedSeconds });
  },
  write: (_, { boutsSeconds, observedSeconds }) => ({
    bouts: boutsSeconds.map(clockTime).join(", "),
    observed: timeOrNothing(observedSeconds),
    none: boutsSeconds.length === 0 ? "yes" : "",
  }),
  add: (typed, counted) => ({
    kind: "duration",
    boutsSeconds: [...typed.boutsSeconds, ...counted.boutsSeconds],
    observedSeconds: secondsTogether(typed.observedSeconds, counted.observedSeconds),
  }),
};
