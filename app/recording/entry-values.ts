import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import type { Problem } from "#core/measures/score.ts";
import { supportsEntryFromMarks } from "#core/measures/supports/supports.ts";
import { trialsEntryFromMarks } from "#core/measures/trials/trials.ts";
import { ladderMarks } from "#core/measures/ladder.ts";
import { clockTime, readLengthOfTime } from "#core/words/read-time.ts";

/** What a form holds of an entry: field name → what stands in it. */
export type Values = Readonly<Record<string, string>>;

type Raw = { ok: true; raw: Record<string, unknown> } | { ok: false; problems: Problem[] };

const wrong = (field: string, message: string): Raw => ({ ok: false, problems: [{ field, message }] });

/** A whole number as typed; undefined where nothing is, NaN where it is none. */
function whole(text: string | undefined): number | undefined {
  const trimmed = text?.trim() ?? "";
  return trimmed === "" ? undefined : /^\d{1,7}$/.test(trimmed) ? Number(trimmed) : Number.NaN;
}

function times(text: string | undefined): number[] | null {
  const parts = (text ?? "").split(/[,;\n]+/).filter((part) => part.trim() !== "");
  const read = parts.map(readLengthOfTime);
  return read.some((seconds) => seconds === null) ? null : read.filter((seconds) => seconds !== null);
}

const timeHelp = "Write a time as 4:10, 45 s or 20 min; several with commas between.";

function optionalTime(text: string | undefined): number | undefined | null {
  return text?.trim() ? readLengthOfTime(text) : undefined;
}

const markAt = (values: Values, marks: readonly string[], index: number): string | null =>
  marks[whole(values[`mark.${index}`]) ?? -1] ?? null;

/** What a form says was observed, in the shape that core reads; what no field can mean is a problem. */
export function rawEntry(measure: Measure, values: Values): Raw {
  const { kind } = measure;
  const done = (raw: Record<string, unknown>): Raw => ({ ok: true, raw: { kind, ...raw } });
  const unfinished = values["finished"] === "no" ? { finished: false } : {};
  switch (kind) {
    case "trials": {
      const marks = values["marks"] ?? "";
      if (marks !== "") return done({ ...trialsEntryFromMarks([...marks].map((mark) => mark === "1")) });
      const [correct, attempted] = [whole(values["correct"]), whole(values["attempted"])];
      if (correct !== undefined && attempted !== undefined) return done({ correct, attempted });
      return {
        ok: false,
        problems: [
          ...(correct === undefined ? [{ field: "correct", message: "How many were correct?" }] : []),
          ...(attempted === undefined ? [{ field: "attempted", message: "Out of how many?" }] : []),
          { field: "form", message: "Nothing is marked yet: mark at least one trial, or type the counts." },
        ],
      };
    }
    case "supports": {
      const marks = ladderMarks(measure);
      const typed = marks.map((_, index) => whole(values[`count.${index}`]) ?? 0);
      const sequence = (values["sequence"] ?? "")
        .split(",")
        .flatMap((index) => (index === "" ? [] : [marks[Number(index)] ?? ""]));
      const ordered = supportsEntryFromMarks(sequence);
      const counts = Object.fromEntries(
        marks.flatMap((mark, index) => (typed[index] === 0 ? [] : [[mark, typed[index] ?? 0]])),
      );
      const same = marks.every((mark) => (counts[mark] ?? 0) === (ordered.counts[mark] ?? 0));
      return done({ counts, ...(same && sequence.length > 0 ? { sequence } : {}) });
    }
    case "skills": {
      const marks = ladderMarks(measure);
      const marked = measure.skills.flatMap((skill, index) => {
        const mark = markAt(values, marks, index);
        return mark === null ? [] : [[skill, mark] as const];
      });
      return done({ marks: Object.fromEntries(marked), ...unfinished });
    }
    case "steps": {
      const marks = ladderMarks(measure);
      return done({ marks: measure.steps.map((_, index) => markAt(values, marks, index)), ...unfinished });
    }
    case "checklist": {
      const said = measure.items.map((item, index) => ({ item, said: values[`item.${index}`] }));
      const probed = said.filter((one) => one.said === "1" || one.said === "0").map(({ item }) => item);
      return done({
        known: said.filter((one) => one.said === "1").map(({ item }) => item),
        ...(probed.length === measure.items.length ? {} : { probed }),
      });
    }
    case "count": {
      const count = whole(values["count"]);
      const observedSeconds = optionalTime(values["observed"]);
      if (count === undefined) return wrong("count", "How often was it?");
      if (observedSeconds === null) return wrong("observedSeconds", timeHelp);
      return done({ count, observedSeconds });
    }
    case "duration": {
      const boutsSeconds = times(values["bouts"]);
      const observedSeconds = optionalTime(values["observed"]);
      if (boutsSeconds === null) return wrong("boutsSeconds", timeHelp);
      if (observedSeconds === null) return wrong("observedSeconds", timeHelp);
      if (boutsSeconds.length === 0 && values["none"] !== "yes")
        return wrong("boutsSeconds", "Give each bout, or say that there was none.");
      return done({ boutsSeconds, observedSeconds });
    }
    case "latency": {
      const delaysSeconds = times(values["delays"]);
      if (delaysSeconds === null) return wrong("delaysSeconds", timeHelp);
      return done({ delaysSeconds, noResponse: whole(values["noResponse"]) });
    }
    case "intervals":
      return done({ marks: (values["intervals"] ?? "").replaceAll(/\s/g, "") });
    case "fluency": {
      const seconds = readLengthOfTime(values["time"] ?? "");
      if (seconds === null) return wrong("seconds", timeHelp);
      const [attempted, errors] = [whole(values["attempted"]), whole(values["errors"])];
      if (attempted === undefined) return wrong("attempted", "How many were attempted?");
      return done({ attempted, errors: errors ?? 0, seconds });
    }
    case "rubric": {
      const levels = measure.criteria.flatMap(({ id }, index) => {
        const level = whole(values[`level.${index}`]);
        return level === undefined ? [] : [[id, level] as const];
      });
      const rater = values["rater"]?.trim();
      return done({ levels: Object.fromEntries(levels), ...(rater ? { rater } : {}) });
    }
    case "outcomes": {
      const at = values["outcome"] ?? "";
      const outcome = at === "other" ? "other" : (measure.outcomes[whole(at) ?? -1]?.id ?? "");
      const note = values["outcomeNote"]?.trim();
      return done({ outcome, ...(outcome === "other" && note ? { note } : {}) });
    }
    case "running-total": {
      const typed = (values["amount"] ?? "").trim().replace(",", ".");
      if (typed === "") return wrong("amount", `How many ${measure.unit}?`);
      return done({ amount: /^\d+(\.\d+)?$/.test(typed) ? Number(typed) : Number.NaN });
    }
  }
}

/** The other way: an entry that is there, as the fields of its form. */
export function valuesOf(measure: Measure, entry: ObservedEntry): Values {
  if (measure.kind === "trials" && entry.kind === "trials")
    return { correct: String(entry.correct), attempted: String(entry.attempted) };
  if (measure.kind === "supports" && entry.kind === "supports") {
    const marks = ladderMarks(measure);
    return {
      ...Object.fromEntries(marks.map((mark, index) => [`count.${index}`, String(entry.counts[mark] ?? 0)])),
      sequence: (entry.sequence ?? []).map((mark) => marks.indexOf(mark)).join(","),
    };
  }
  if (measure.kind === "skills" && entry.kind === "skills")
    return marked(measure.skills.map((skill) => ladderMarks(measure).indexOf(entry.marks[skill] ?? "")));
  if (measure.kind === "steps" && entry.kind === "steps")
    return marked(measure.steps.map((_, index) => ladderMarks(measure).indexOf(entry.marks[index] ?? "")));
  if (measure.kind === "checklist" && entry.kind === "checklist") {
    const probed = entry.probed ?? measure.items;
    return Object.fromEntries(
      measure.items.flatMap((item, index) =>
        probed.includes(item) ? [[`item.${index}`, entry.known.includes(item) ? "1" : "0"]] : [],
      ),
    );
  }
  if (entry.kind === "count")
    return { count: String(entry.count), observed: timeOrNothing(entry.observedSeconds) };
  if (entry.kind === "duration")
    return {
      bouts: entry.boutsSeconds.map(clockTime).join(", "),
      observed: timeOrNothing(entry.observedSeconds),
      none: entry.boutsSeconds.length === 0 ? "yes" : "",
    };
  if (entry.kind === "latency")
    return {
      delays: entry.delaysSeconds.map(clockTime).join(", "),
      noResponse: entry.noResponse ? String(entry.noResponse) : "",
    };
  if (entry.kind === "intervals") return { intervals: entry.marks };
  if (entry.kind === "fluency")
    return {
      attempted: String(entry.attempted),
      errors: String(entry.errors),
      time: clockTime(entry.seconds),
    };
  if (measure.kind === "rubric" && entry.kind === "rubric")
    return {
      ...Object.fromEntries(
        measure.criteria.map(({ id }, index) => [`level.${index}`, String(entry.levels[id] ?? "")]),
      ),
      rater: entry.rater ?? "",
    };
  if (measure.kind === "outcomes" && entry.kind === "outcomes")
    return {
      outcome:
        entry.outcome === "other"
          ? "other"
          : String(measure.outcomes.findIndex(({ id }) => id === entry.outcome)),
      outcomeNote: entry.note ?? "",
    };
  if (entry.kind === "running-total") return { amount: String(entry.amount) };
  return {};
}

const timeOrNothing = (seconds: number | undefined) => (seconds === undefined ? "" : clockTime(seconds));

function marked(indexes: readonly number[]): Values {
  return Object.fromEntries(
    indexes.flatMap((mark, index) => (mark === -1 ? [] : [[`mark.${index}`, String(mark)]])),
  );
}

/** Has anything been marked or typed that would be lost? */
export function hasMarks(values: Values): boolean {
  return Object.entries(values).some(
    ([name, value]) =>
      value !== "" && !["observedAt", "purpose", "setting", "time", "observed"].includes(name),
  );
}

/** What stands in a fresh sheet: the time, and what the measure has planned. */
export function startValues(measure: Measure, now: string): Values {
  return {
    observedAt: now,
    ...(measure.kind === "fluency" ? { time: clockTime(measure.plannedSeconds ?? 60) } : {}),
  };
}
