import { isMeasureKind, type MeasureKind } from "#core/measures/measure.ts";
import { blanksIn } from "#core/goal-wording/blanks.ts";
import { readSetUp } from "./read-set-up.ts";
import type { SetUp, SetUpValues } from "./set-up-values.ts";

/** What a measure of each kind is drawn with where its own fields are still open. */
const standIns: Partial<Record<MeasureKind, SetUpValues>> = {
  checklist: { parts: "first item\nsecond item" },
  skills: {
    parts: "first sub-skill\nsecond sub-skill",
    levels: "independent\nwith help",
    credited: "independent",
  },
  steps: { parts: "first step\nsecond step", levels: "independent\nwith help", credited: "independent" },
  supports: { levels: "independent\nwith help", credited: "independent" },
  intervals: { interval: "1 min" },
  latency: { within: "30 s" },
  rubric: { "criterion.0.label": "first criterion", "criterion.0.max": "4" },
  outcomes: { "outcome.0.label": "first outcome", "outcome.0.credit": "100" },
  "running-total": { target: "100", unit: "units" },
};

const mostTries = 6;

/**
 * The set-up as far as it is known: an open field never empties the preview. What is open in the measure is drawn with a stand-in, a window that is
 * not said counts once, anything else that is wrong is left out.
 *
 * @returns null where nothing says how the goal is measured
 */
export function previewOf(values: SetUpValues): SetUp | null {
  const kind = values["kind"];
  if (!isMeasureKind(kind)) return null;
  const standIn = standIns[kind] ?? {};
  let tried: Record<string, string> = {
    ...Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value ?? ""])),
    wording: "…",
    strategy: "",
    title: blanksIn(values["title"] ?? "").length > 0 ? "The goal" : values["title"] || "The goal",
    number: values["number"] || "1",
  };
  for (let time = 0; time < mostTries; time += 1) {
    const read = readSetUp(tried);
    if (read.ok) return read.setUp;
    const next: Record<string, string> = { ...tried };
    for (const { field } of read.problems) {
      if (field === "window") Object.assign(next, { k: "1", n: "1" });
      else if (field === "value") Object.assign(next, { value: "", k: "", n: "" });
      else if (field === "joined") Object.assign(next, { "joined.figure": "" });
      else if (field.startsWith("baseline")) Object.assign(next, { baseline: "" });
      else if (field in tried && !(field in standIn) && next[field] !== "") next[field] = "";
      else Object.assign(next, standIn);
    }
    tried = next;
  }
  return null;
}
