import type { Proposal } from "#core/goal-wording/propose.ts";
import { plain, timeText } from "#app/measures/set-up-form.ts";
import { said, type SetUpValues } from "./set-up-values.ts";

/** The level of a ladder that a wording's support means, by its name; null where none is like it. */
function levelLike(levels: readonly string[], level: string): string | null {
  const stem: Record<string, RegExp> = {
    independent: /^independent|^no prompt|^none/i,
    gestural: /gestur/i,
    verbal: /verbal/i,
    visual: /visual/i,
    model: /model/i,
    "partial-physical": /partial|physical/i,
    "full-physical": /full|hand|physical/i,
    minimal: /^min/i,
    moderate: /^mod/i,
    maximal: /^max/i,
  };
  const pattern = stem[level];
  return (pattern && levels.find((one) => pattern.test(one))) ?? null;
}

/**
 * What a proposal puts into the fields, and the words of the wording that each came from.
 *
 * @param iepTo the end of the student's IEP year, for a wording that names it without a date
 */
export function proposedValues(
  proposal: Proposal,
  ladders: readonly { levels: string[]; misses: string[] }[],
  iepTo: string | null = null,
): { values: SetUpValues; words: SetUpValues } {
  const values: Record<string, string> = { title: proposal.title };
  const words: Record<string, string> = {};
  const put = (field: string, value: string, from: string | null) => {
    values[field] = value;
    if (from) words[field] = from;
  };
  const { kind, threshold, window, joined, support, due, parts } = proposal;
  if (kind) put("kind", kind.value, kind.words);
  const seconds = kind?.value === "duration";
  if (threshold) {
    put("value", said(threshold.value.value, seconds ? "seconds" : ""), threshold.words);
    put("direction", threshold.value.direction, null);
  }
  if (proposal.planned) put("planned", String(proposal.planned.value), proposal.planned.words);
  if (window) {
    put("k", String(window.value.k), null);
    put("n", String(window.value.n), null);
    put("windowUnit", window.value.unit, null);
    if (window.words) words["window"] = window.words;
  }
  const unit = proposal.pooling?.value;
  if (unit && kind?.value === "running-total" && (unit === "week" || unit === "month"))
    put("startsAgain", unit, proposal.pooling?.words ?? null);
  // "3 times per day for 4 weeks" is pooled by day: how many days have to meet it is for a person to say.
  if (unit && unit !== "session" && unit !== window?.value.unit) {
    put("windowUnit", unit, proposal.pooling?.words ?? null);
    if (window && window.value.unit !== "session") {
      delete values["k"];
      delete values["n"];
    }
  }
  if (joined) {
    put("joined.figure", joined.value.figure, null);
    put("joined.value", plain(joined.value.value), null);
    if (joined.words) words["joined"] = joined.words;
  }
  if (proposal.withinSeconds) {
    put("within", timeText(proposal.withinSeconds.value), proposal.withinSeconds.words);
    put("report", "within", null);
  }
  if (seconds) put("report", threshold?.value.direction === "decrease" ? "total" : "longest", null);
  if (proposal.intervalSeconds)
    put("interval", timeText(proposal.intervalSeconds.value), proposal.intervalSeconds.words);
  if (proposal.per) put("per", proposal.per.value, proposal.per.words);
  if (proposal.counted) put("counted", proposal.counted.value, proposal.counted.words);
  if (proposal.target) {
    put("target", plain(proposal.target.value.value), proposal.target.words);
    put("unit", proposal.target.value.unit, null);
  }
  if (proposal.method) put("method", proposal.method.value, null);
  if (proposal.baseline) {
    put("baseline", "entered", null);
    put("baselineValue", said(proposal.baseline.value, seconds ? "seconds" : ""), null);
  }
  if (proposal.settings) put("settings", String(proposal.settings.value), null);
  if (proposal.people) put("people", String(proposal.people.value), null);
  if (proposal.report && (kind?.value === "duration" || !proposal.withinSeconds))
    put("report", proposal.report.value, proposal.report.words);
  if (due) put("dueOn", due.value, due.words);
  if (parts) put("parts", parts.value.join("\n"), parts.words);
  const usesLadder = kind !== undefined && ["supports", "skills", "steps"].includes(kind.value);
  if (usesLadder) {
    const fitting =
      ladders.find(({ levels }) => support && levelLike(levels, support.value.level)) ?? ladders[0];
    if (fitting) {
      put("levels", fitting.levels.join("\n"), null);
      put("misses", fitting.misses.join("\n"), null);
      const level = support ? levelLike(fitting.levels, support.value.level) : null;
      put("credited", level ?? fitting.levels[0] ?? "", level ? (support?.words ?? null) : null);
    }
  }
  const ownWords = support?.words;
  if (ownWords && (!usesLadder || support.value.atMost !== null)) put("confirm", ownWords, ownWords);
  if (proposal.confirm)
    put("confirm", [values["confirm"], ...proposal.confirm].filter(Boolean).join("\n"), null);
  if (!due && proposal.atIepEnd && iepTo) put("dueOn", iepTo, "the end of the IEP year");
  return { values, words };
}
