import { isDate } from "../dates/day-number.ts";
import { episodesOf } from "../incidents/episodes.ts";
import { hourSlots, type KnownIncident, type Watched } from "../incidents/finding-candidates.ts";
import { observedWeekdays } from "../incidents/observed-days.ts";
import { dailyCounts } from "../incidents/patterns.ts";
import { rateChange } from "../incidents/rate.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { readCsv } from "./csv.ts";
import { InputError } from "./input-error.ts";

/** One row of a file of incidents. */
export interface IncidentRow extends KnownIncident {
  /** The label of its episode; null where the file does not say. */
  episode: string | null;
}

/** A file of incidents for `figures incidents` and `figures findings`. */
export interface IncidentFile {
  rows: IncidentRow[];
  /** Does the file say which rows are one episode? */
  hasEpisodes: boolean;
  /** What was watched, as the first row of the application's own files says it; null where it does not. */
  watched: Pick<Watched, "days" | "periods" | "notWatched"> | null;
  /** A plan that began within the span. */
  plan: { name: string; beginsOn: string } | null;
}

const columns = [
  ...["date", "time", "setting", "antecedents", "behaviors", "consequences"],
  ...["function", "minutes", "intensity"],
];
const timePattern = /^([01]\d|2[0-3]):[0-5]\d$/;
/** Between the labels of a cell. */
export const labelSeparator = "|";

const labels = (cell = "") =>
  cell
    .split(labelSeparator)
    .map((label) => label.trim())
    .filter((label) => label !== "");

function readRow(cells: Record<string, string>, line: number, isOwn: boolean): IncidentRow {
  const cell = (name: string) => (cells[name] ?? "").trim();
  const some = (name: string) => {
    const found = labels(cell(name));
    if (found.length === 0 && !isOwn) throw new InputError(line, `${name} is empty`);
    return found;
  };
  const number = (name: string, wants: RegExp, what: string) => {
    const value = cell(name);
    if (value === "") return null;
    if (!wants.test(value)) throw new InputError(line, `${name} ${value} is not ${what}`);
    return Number(value);
  };
  const [on, at, setting] = [cell("date"), cell("time"), cell("setting")];
  if (!isDate(on)) throw new InputError(line, `date ${on || "is empty"}${on ? " is not a date" : ""}`);
  if (at === "" ? !isOwn : !timePattern.test(at))
    throw new InputError(line, `time ${at || "is empty"}${at ? " is not a time" : ""}`);
  if (setting === "" && !isOwn) throw new InputError(line, "setting is empty");
  return {
    incidentId: String(line),
    on,
    at: at || null,
    period: cell("period") || null,
    setting: setting || null,
    antecedents: some("antecedents"),
    behaviors: some("behaviors"),
    consequences: some("consequences"),
    functions: labels(cell("function")),
    minutes: number("minutes", /^\d+(\.\d+)?$/, "a number of minutes of at least 0"),
    intensity: number("intensity", /^\d+$/, "a whole number"),
    episode: cell("episode") || null,
  };
}

/** "1 10:15-11:00 Math" */
const slotPattern = /^([1-7]) (\d{2}:\d{2})-(\d{2}:\d{2}) (.+)$/;

function readSlots(cell: string, line: number): TimetableSlot[] {
  return labels(cell).map((text) => {
    const [, weekday, startsAt = "", endsAt = "", name = ""] = slotPattern.exec(text) ?? [];
    if (weekday === undefined)
      throw new InputError(line, `timetable ${text} is not weekday, times and name (1 10:15-11:00 Math)`);
    return { weekday: Number(weekday), startsAt, endsAt, name };
  });
}

/**
 * Reads a file of incidents: `date,time,setting,antecedents,behaviors,consequences,function,minutes,intensity`, several labels of a cell parted by
 * `|`. Optional: `episode` (rows of one label are one episode) and `period` (the period of the day; with this column a row needs no time, and what
 * was not recorded may be empty). In the application's own files the first row also says what was watched: `timetable`
 * (`1 10:15-11:00 Math|…`, Monday = 1), `observed` (days), `not observed` (`2026-10-05 Math|…`) and `plan` (`2026-10-19 its name`).
 *
 * @throws InputError at its line when something in it is wrong
 */
export function readIncidents(text: string): IncidentFile {
  const found = readCsv(text, columns).filter(({ empty }) => !empty);
  const [first] = found;
  const isOwn = first !== undefined && "period" in first.cells;
  const cell = (name: string) => first?.cells[name] ?? "";
  const [day, ...name] = cell("plan").split(" ");
  return {
    rows: found.map(({ cells, line }) => readRow(cells, line, isOwn)),
    hasEpisodes: first !== undefined && "episode" in first.cells,
    watched:
      cell("observed") === ""
        ? null
        : {
            days: labels(cell("observed")),
            periods: readSlots(cell("timetable"), first?.line ?? 1),
            notWatched: new Set(labels(cell("not observed"))),
          },
    plan: day && isDate(day) ? { beginsOn: day, name: name.join(" ") } : null,
  };
}

/** Rows of one episode as the file says it, else those less than 30 minutes apart. */
export const fileEpisodes = ({ rows, hasEpisodes, watched }: IncidentFile): IncidentRow[][] => {
  if (!hasEpisodes) return episodesOf(rows, watched?.periods ?? []);
  const known = new Map<string, IncidentRow[]>();
  return rows.flatMap((row) => {
    const there = row.episode === null ? undefined : known.get(row.episode);
    if (there) {
      there.push(row);
      return [];
    }
    const made = [row];
    if (row.episode !== null) known.set(row.episode, made);
    return [made];
  });
};

/** What `whatStandsOut` looks at. Where a file does not say what was watched, every weekday from its first day to its last was, in hours. */
export function watchedOf(file: IncidentFile): Watched {
  const { rows, watched, plan } = file;
  const days = watched?.days ?? observedWeekdays(rows.map(({ on }) => on));
  const periods = watched && watched.periods.length > 0 ? watched.periods : hourSlots(8, 15);
  const side = (isSince: boolean) =>
    dailyCounts(
      rows,
      days.filter((day) => plan !== null && day >= plan.beginsOn === isSince),
    );
  const rates = plan && rateChange(side(false), side(true));
  return {
    ...{ incidents: rows, days, periods },
    ...(watched?.notWatched && { notWatched: watched.notWatched }),
    episodes: fileEpisodes(file),
    ...(plan &&
      rates && {
        change: {
          name: `“${plan.name}” began`,
          rates,
          incidentIds: rows.filter(({ on }) => on >= plan.beginsOn).map(({ incidentId }) => incidentId),
        },
      }),
  };
}
