import type { Measure } from "../measures/measure.ts";
import { criterionName } from "../measures/rubric.ts";
import { supportsEntryFromMarks } from "../measures/supports.ts";
import { trialsEntryFromMarks } from "../measures/trials.ts";
import { readLengthOfTime } from "../words/read-time.ts";
import { ladderMarks } from "./observed.ts";

export type TypedLine = { ok: true; raw: Record<string, unknown> } | { ok: false; message: string };

const wrong = (message: string): TypedLine => ({ ok: false, message });
const whole = (text: string | undefined): number | null =>
  /^\d{1,7}$/.test(text ?? "") ? Number(text) : null;

/** "… in 20 min" at the end of a line: how long it was observed. Undefined where nothing is said, null where it is no time. */
function cutTime(text: string): { rest: string; seconds: number | undefined | null } {
  const found = /^(.*?)(?:\s+in\s+|^in\s+)(.+)$/i.exec(text);
  return found
    ? { rest: (found[1] ?? "").trim(), seconds: readLengthOfTime(found[2] ?? "") }
    : { rest: text.trim(), seconds: undefined };
}

const notATime = "After “in” write a time: 4:10, 45 s or 20 min.";

/** The codes of a data sheet, one for each place: a digit for each choice, `-` for not marked. */
function codes(
  text: string,
  choices: readonly string[],
  places: number,
  what: string,
): (string | null)[] | string {
  const typed = /\s/.test(text.trim()) ? text.trim().split(/\s+/) : [...text.trim()];
  if (typed.length !== places)
    return `Write ${places} codes, one for each of the ${what}; there are ${typed.length}.`;
  const read = typed.map((code) => (code === "-" ? null : choices[Number(code) - 1]));
  const unknown = typed.find((_, index) => read[index] === undefined);
  return unknown === undefined
    ? (read as (string | null)[])
    : `“${unknown}” is none of the codes 1 to ${choices.length}, or - for not marked.`;
}

/** The legend of a measure's codes, as a data sheet prints it: code and what it stands for. */
export function sheetCodes(measure: Measure): { code: string; means: string }[] {
  if (measure.kind === "trials" || measure.kind === "intervals")
    return [
      { code: "1", means: measure.kind === "trials" ? "correct" : "seen" },
      { code: "0", means: measure.kind === "trials" ? "not yet" : "not seen" },
      ...(measure.kind === "intervals" ? [{ code: "-", means: "not observed" }] : []),
    ];
  if (measure.kind === "checklist")
    return [
      { code: "1", means: "known" },
      { code: "0", means: "not yet" },
      { code: "-", means: "not probed" },
    ];
  if ("levels" in measure)
    return [
      ...ladderMarks(measure).map((means, index) => ({ code: String(index + 1), means })),
      ...(measure.kind === "supports" ? [] : [{ code: "-", means: "not marked" }]),
    ];
  if (measure.kind === "outcomes")
    return measure.outcomes.map(({ id, label }, index) => ({ code: String(index + 1), means: label ?? id }));
  return [];
}

/** The columns that a data sheet has for one observation of a measure: its parts in their order, or numbered places. */
export function sheetColumns(measure: Measure): string[] {
  const numbered = (count: number) => Array.from({ length: count }, (_, index) => String(index + 1));
  switch (measure.kind) {
    case "trials":
    case "supports":
      return numbered(measure.planned ?? 10);
    case "intervals":
      return numbered(Math.min(measure.planned ?? 20, 60));
    case "skills":
      return measure.skills;
    case "steps":
      return measure.steps;
    case "checklist":
      return measure.items;
    case "rubric":
      return measure.criteria.map((criterion) => `${criterionName(criterion)} (0–${criterion.max})`);
    case "count":
      return [measure.counted ?? "count", "observed for"];
    case "duration":
      return ["bouts, each with its time", "observed for"];
    case "latency":
      return ["delays, n for no response"];
    case "fluency":
      return [`${measure.counted ?? "words"} attempted`, "errors", "time"];
    case "outcomes":
      return ["outcome", "or what else"];
    case "running-total":
      return [measure.unit];
  }
}

/** How an observation of this measure is typed in one line: an example, and what it says. */
export function typedLineHint(measure: Measure): string {
  switch (measure.kind) {
    case "trials":
      return "7/10, or each trial in order: 1101110101";
    case "supports":
      return `each opportunity by its code, in order: 11213 (1 is ${measure.levels[0]})`;
    case "skills":
    case "steps":
      return `a code for each of the ${measure.kind}, in order: 112-3`;
    case "checklist":
      return "1, 0 or - for each item, in order: 110-1";
    case "count":
      return measure.per === "observation" ? "12, or 12 in 20 min" : "12 in 20 min";
    case "duration":
      return measure.report === "share" ? "4:10, 0:45 in 20 min; or none in 20 min" : "4:10, 0:45; or none";
    case "latency":
      return "12 s, 8 s, n (n is no response)";
    case "intervals":
      return "1, 0 or - for each interval: 1101-0";
    case "fluency":
      return "attempted/errors: 84/3, or 50/2 in 41 s";
    case "rubric":
      return "a level for each criterion, in order: 3 2 4";
    case "outcomes":
      return "the code of the outcome: 1; or in words what else";
    case "running-total":
      return `${measure.unit}: 12.5`;
  }
}

/**
 * Reads one observation as it is copied from a data sheet: one line, in the codes that the sheet prints. What it yields is
 * the shape that `readEntry` reads.
 *
 * @returns the entry, or one sentence that says how to write it
 *
 * @example readTypedLine({ kind: "trials" }, "7/10") // {kind: "trials", correct: 7, attempted: 10}
 * @example readTypedLine({ kind: "count", per: "hour" }, "12 in 20 min") // {kind: "count", count: 12, observedSeconds: 1200}
 */
export function readTypedLine(measure: Measure, typed: string): TypedLine {
  const text = typed.trim();
  const made = (raw: Record<string, unknown>): TypedLine => ({
    ok: true,
    raw: { kind: measure.kind, ...raw },
  });
  const asHinted = () => wrong(`Write ${typedLineHint(measure)}.`);
  switch (measure.kind) {
    case "trials": {
      const [, correct, attempted] = /^(\d{1,4})\s*(?:\/|of)\s*(\d{1,4})$/i.exec(text) ?? [];
      if (correct !== undefined) return made({ correct: Number(correct), attempted: Number(attempted) });
      return /^[01]{2,200}$/.test(text)
        ? made({ ...trialsEntryFromMarks([...text].map((mark) => mark === "1")) })
        : asHinted();
    }
    case "supports": {
      const names = ladderMarks(measure);
      const typedCodes = /\s/.test(text) ? text.split(/\s+/) : [...text];
      const levels = typedCodes.map((code) => names[Number(code) - 1]);
      const unknown = typedCodes.find((_, index) => levels[index] === undefined);
      return unknown === undefined
        ? made({ ...supportsEntryFromMarks(levels as string[]) })
        : wrong(`“${unknown}” is none of the codes 1 to ${names.length}.`);
    }
    case "skills": {
      const read = codes(text, ladderMarks(measure), measure.skills.length, "skills");
      if (typeof read === "string") return wrong(read);
      const marked = measure.skills.flatMap((skill, index) => {
        const mark = read[index];
        return mark === null || mark === undefined ? [] : [[skill, mark] as const];
      });
      return made({
        marks: Object.fromEntries(marked),
        ...(marked.length < measure.skills.length ? { finished: false } : {}),
      });
    }
    case "steps": {
      const read = codes(text, ladderMarks(measure), measure.steps.length, "steps");
      return typeof read === "string" ? wrong(read) : made({ marks: read });
    }
    case "checklist": {
      if (!/^[01-]+$/.test(text)) return asHinted();
      if (text.length !== measure.items.length)
        return wrong(
          `Write ${measure.items.length} codes, one for each of the items; there are ${text.length}.`,
        );
      const having = (mark: RegExp) => measure.items.filter((_, index) => mark.test(text[index] ?? ""));
      const probed = having(/[01]/);
      return made({ known: having(/1/), ...(probed.length === measure.items.length ? {} : { probed }) });
    }
    case "count": {
      const { rest, seconds } = cutTime(text);
      const count = whole(rest);
      if (seconds === null) return wrong(notATime);
      return count === null ? asHinted() : made({ count, observedSeconds: seconds });
    }
    case "duration": {
      const { rest, seconds } = cutTime(text);
      if (seconds === null) return wrong(notATime);
      if (/^none$/i.test(rest)) return made({ boutsSeconds: [], observedSeconds: seconds });
      const bouts = rest.split(/[,;]/).map(readLengthOfTime);
      return bouts.includes(null) ? asHinted() : made({ boutsSeconds: bouts, observedSeconds: seconds });
    }
    case "latency": {
      const parts = text.split(/[,;]/).map((part) => part.trim());
      const answers = parts.filter((part) => !/^n$/i.test(part));
      const delays = answers.map((part) => (whole(part) === null ? readLengthOfTime(part) : Number(part)));
      return delays.includes(null)
        ? asHinted()
        : made({ delaysSeconds: delays, noResponse: parts.length - answers.length });
    }
    case "intervals":
      return /^[01-]+$/.test(text) ? made({ marks: text }) : asHinted();
    case "fluency": {
      const { rest, seconds } = cutTime(text);
      if (seconds === null) return wrong(notATime);
      const [, attempted, errors = "0"] = /^(\d{1,4})(?:\s*\/\s*(\d{1,4}))?$/.exec(rest) ?? [];
      return attempted === undefined
        ? asHinted()
        : made({
            attempted: Number(attempted),
            errors: Number(errors),
            seconds: seconds ?? measure.plannedSeconds ?? 60,
          });
    }
    case "rubric": {
      const typedLevels = text.split(/[\s,]+/).map(whole);
      if (typedLevels.length !== measure.criteria.length || typedLevels.includes(null))
        return wrong(`Write ${measure.criteria.length} levels, one for each criterion: 3 2 4.`);
      return made({
        levels: Object.fromEntries(measure.criteria.map(({ id }, index) => [id, typedLevels[index]])),
      });
    }
    case "outcomes": {
      const at = whole(text);
      const outcome = at === null ? undefined : measure.outcomes[at - 1];
      if (outcome) return made({ outcome: outcome.id });
      return at === null && text !== "" ? made({ outcome: "other", note: text.slice(0, 500) }) : asHinted();
    }
    case "running-total": {
      const amount = text.replace(",", ".");
      return /^\d{1,7}(\.\d+)?$/.test(amount) ? made({ amount: Number(amount) }) : asHinted();
    }
  }
}
