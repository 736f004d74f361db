import { lengthOfTime } from "#core/words/amounts.ts";
import { clockTime } from "#core/words/read-time.ts";
import { asRead, type EntryFormOf, readTimes, timeHelp, wholeNumber, wrongField } from "../entry-form.ts";

export const latencyForm: EntryFormOf<"latency"> = {
  fields: ({ report, withinSeconds }) => [
    {
      name: "delays",
      label: "Delays",
      problemsOf: ["delaysSeconds"],
      hint:
        report === "within" && withinSeconds
          ? `In time is within ${lengthOfTime(withinSeconds)}. As 12 s, 1:05.`
          : "As 12 s, 1:05, with commas between.",
    },
    { name: "noResponse", label: "No responses", numeric: true },
  ],
  read(_, values) {
    const delaysSeconds = readTimes(values["delays"]);
    if (delaysSeconds === null) return wrongField("delaysSeconds", timeHelp);
    return asRead({ delaysSeconds, noResponse: wholeNumber(values["noResponse"]) });
  },
  write: (_, { delaysSeconds, noResponse }) => ({
    delays: delaysSeconds.map(clockTime).join(", "),
    noResponse: noResponse ? String(noResponse) : "",
  }),
  add: (typed, counted) => ({
    kind: "latency",
    delaysSeconds: [...typed.delaysSeconds, ...counted.delaysSeconds],
    noResponse: (typed.noResponse ?? 0) + (counted.noResponse ?? 0),
  }),
};
