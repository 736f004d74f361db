import { isValid, parse } from "date-fns";
import { groupBy } from "#core/lists/group-by.ts";
import { readEntry } from "#core/measures/measure.ts";
import { type CsvRow, readCsv } from "#core/files/csv.ts";
import { matchName, type Named } from "./match-name.ts";

/** A row that is an entry beyond doubt. */
export interface GoalDataEntry {
  line: number;
  studentId: string;
  authorId: string;
  /** The goal's label as first written for this student, and its folded form, which tells labels apart. */
  label: string;
  labelKey: string;
  observedLocal: string;
  correct: number;
  attempted: number;
  support: string | null;
  note: string | null;
  /** The row's own text and how many identical rows came before it: what makes it the same row when read again. */
  identity: string;
}

export interface Listed {
  line: number;
  why: string;
}

export interface GoalData {
  rows: number;
  entries: GoalDataEntry[];
  listed: Listed[];
}

type ScoreReading = { ok: true; correct: number; attempted: number } | { ok: false; why: string };

/** What a score cell says; only a clear k of n is an entry. */
export function readScore(cell: string): ScoreReading {
  const text = cell.trim();
  const counts = /^(-?\d+)\s*(?:\/|of|out of)\s*(\d+)$/i.exec(text);
  if (counts) {
    const [correct, attempted] = [Number(counts[1]), Number(counts[2])];
    const read = readEntry({ kind: "trials" }, { kind: "trials", correct, attempted });
    return read.ok
      ? { ok: true, correct, attempted }
      : { ok: false, why: `'${text}': ${read.problems.map((problem) => problem.message).join(" ")}` };
  }
  if (text === "") return { ok: false, why: "no score: a session without a measurement" };
  if (/^(absent|refused)$/i.test(text))
    return { ok: false, why: `${text.toLowerCase()}: a session without a measurement` };
  if (/^\d+(\.\d+)?\s*%$/.test(text) && Number.parseFloat(text) > 100)
    return { ok: false, why: `'${text}' is more than 100%` };
  if (/^\d+(\.\d+)?\s*%$/.test(text) || /^0?\.\d+$/.test(text))
    return { ok: false, why: `'${text}' is a percentage without its counts` };
  if (/^\d{1,2}-[A-Za-z]{3}$/.test(text))
    return { ok: false, why: `'${text}' looks like a date that a spreadsheet made of a score` };
  if (/^\d+(\.\d+)?$/.test(text))
    return { ok: false, why: `'${text}' has neither a percent sign nor a total` };
  return { ok: false, why: `'${text}' is not a score` };
}

const supports: [level: string, writings: RegExp][] = [
  ["independent", /^(independent|ind|i)$/i],
  ["gestural", /^(gestural|gesture)$/i],
  ["verbal", /^(verbal|verbal cue)$/i],
  ["model", /^(model|modeled)$/i],
  ["partial-physical", /^(partial physical|partial phys\.?)$/i],
  ["full-physical", /^(full physical|hoh)$/i],
];

/** Month first; the school's own time, `YYYY-MM-DDTHH:MM:SS`. */
function readTimestamp(cell: string): string | null {
  for (const pattern of ["M/d/yyyy H:mm:ss", "M/d/yyyy H:mm"]) {
    const parsed = parse(cell.trim(), pattern, new Date(0));
    if (!isValid(parsed)) continue;
    const two = (value: number) => String(value).padStart(2, "0");
    return `${parsed.getFullYear()}-${two(parsed.getMonth() + 1)}-${two(parsed.getDate())}T${two(parsed.getHours())}:${two(parsed.getMinutes())}:${two(parsed.getSeconds())}`;
  }
  return null;
}

const foldLabel = (label: string) => label.normalize("NFKC").toLowerCase().replace(/\s+/g, " ").trim();
const columns = ["Timestamp", "Staff", "Student", "Goal", "Score", "Prompt level", "Notes"] as const;
const cell = (row: CsvRow, name: (typeof columns)[number]) => row.cells[name] ?? "";

/** The same words as the row before, sent again within two minutes. */
function secondsAfterSame(row: CsvRow, before: CsvRow | undefined): number | null {
  if (!before || columns.some((name) => name !== "Timestamp" && cell(row, name) !== cell(before, name)))
    return null;
  const [now, then] = [readTimestamp(cell(row, "Timestamp")), readTimestamp(cell(before, "Timestamp"))];
  if (now === null || then === null) return null;
  const seconds = (Date.parse(`${now}Z`) - Date.parse(`${then}Z`)) / 1000;
  return seconds >= 0 && seconds <= 120 ? seconds : null;
}

/**
 * Reads a file of goal observations as schools keep them: each row whose student, author, goal, time and score are certain is
 * an entry, every other row is listed with its line and the reason. A goal label counts as a goal of the student when it is
 * written in at least two of the student's rows, or is a goal already.
 *
 * @param knownGoals folded labels of goals that are there, by student
 * @throws InputError when the file is not such a file
 */
export function readGoalData(
  text: string,
  {
    students,
    staff,
    knownGoals,
  }: {
    students: readonly Named[];
    staff: readonly Named[];
    knownGoals: ReadonlyMap<string, ReadonlySet<string>>;
  },
): GoalData {
  const rows = readCsv(text, columns);
  const studentOf = new Map(rows.map((row) => [row, matchName(cell(row, "Student"), students, "student")]));
  const labelsOf = groupBy(rows, (row) => {
    const student = studentOf.get(row);
    return student?.ok ? student.id : "";
  });
  const seen = new Map<string, number>();
  const entries: GoalDataEntry[] = [];
  const listed: Listed[] = [];

  rows.forEach((row, index) => {
    const list = (why: string) => listed.push({ line: row.line, why });
    if (row.empty) return list("an empty row");
    const student = studentOf.get(row);
    if (!student?.ok) return list(student?.why ?? "no student is named");
    const seconds = secondsAfterSame(row, rows[index - 1]);
    if (seconds !== null) return list(`the same as the row before, ${seconds} s later: sent twice?`);
    const label = cell(row, "Goal").replace(/\s+/g, " ").trim();
    const labelKey = foldLabel(label);
    if (labelKey === "") return list("no goal is named");
    const written = (labelsOf.get(student.id) ?? []).filter(
      (other) => foldLabel(cell(other, "Goal")) === labelKey,
    ).length;
    if (written < 2 && !knownGoals.get(student.id)?.has(labelKey))
      return list(`'${label}' is written once for this student and is no goal that is known`);
    const author = matchName(cell(row, "Staff"), staff, "staff member");
    if (!author.ok) return list(author.why);
    const observedLocal = readTimestamp(cell(row, "Timestamp"));
    if (observedLocal === null)
      return list(`'${cell(row, "Timestamp").trim()}' is not a date and time, month first`);
    const score = readScore(cell(row, "Score"));
    if (!score.ok) return list(score.why);
    const identity = columns.map((name) => cell(row, name)).join("\u001f");
    const before = seen.get(identity) ?? 0;
    seen.set(identity, before + 1);
    const prompt = cell(row, "Prompt level").trim();
    entries.push({
      line: row.line,
      studentId: student.id,
      authorId: author.id,
      label,
      labelKey,
      observedLocal,
      correct: score.correct,
      attempted: score.attempted,
      support: prompt === "" ? null : (supports.find(([, writing]) => writing.test(prompt))?.[0] ?? prompt),
      note: cell(row, "Notes").trim() || null,
      identity: `${identity}\u001f${before}`,
    });
  });
  return { rows: rows.length, entries, listed };
}
