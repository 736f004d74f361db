import { incidentFigures, type IncidentFigures } from "#core/incidents/incident-figures.ts";
import type { LabelledIncident } from "#core/incidents/labelled-incident.ts";
import { isDate } from "#core/dates/day-number.ts";
import { counts } from "#core/words/numbers.ts";
import { readCsv } from "#core/files/csv.ts";
import { InputError } from "#core/files/input-error.ts";

const columns = [
  ...["date", "time", "setting", "antecedents", "behaviors", "consequences"],
  ...["function", "minutes", "intensity"],
];

const labels = (cell: string) =>
  cell
    .split("|")
    .map((label) => label.trim())
    .filter((label) => label !== "");

function readIncident(cells: Record<string, string>, line: number): LabelledIncident {
  const cell = (name: string) => (cells[name] ?? "").trim();
  const some = (name: string) => {
    const found = labels(cell(name));
    if (found.length === 0) throw new InputError(line, `${name} is empty`);
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
  if (!/^([01]\d|2[0-3]):[0-5]\d$/.test(at))
    throw new InputError(line, `time ${at || "is empty"}${at ? " is not a time" : ""}`);
  if (setting === "") throw new InputError(line, "setting is empty");
  return {
    on,
    at,
    setting,
    antecedents: some("antecedents"),
    behaviors: some("behaviors"),
    consequences: some("consequences"),
    functions: labels(cell("function")),
    minutes: number("minutes", /^\d+(\.\d+)?$/, "a number of minutes of at least 0"),
    intensity: number("intensity", /^\d+$/, "a whole number"),
  };
}

/** A figure that the data do not define is null; why stands beside it. */
const withWhy = <Figures extends Record<string, unknown>>(figures: Figures, why: string) => {
  const missing = Object.keys(figures).filter((name) => figures[name] === null);
  return missing.length === 0
    ? figures
    : { ...figures, why: Object.fromEntries(missing.map((name) => [name, why])) };
};

function json(figures: IncidentFigures): string {
  const { intensity, minutes, associations, ...rest } = withWhy({ ...figures }, "no incidents");
  const made = {
    ...rest,
    intensity: withWhy(intensity, "no intensity is given"),
    minutes: withWhy(minutes, "no minutes are given"),
    associations: associations.map((one) => withWhy({ ...one }, "one of the two is in every incident")),
  };
  return `${JSON.stringify(made, null, 2)}\n`;
}

function table(figures: IncidentFigures): string {
  const { n, from, to, grid, intensity, minutes, associations } = figures;
  const counted = (name: string, by: Record<string, number>) =>
    `${name}: ${
      Object.entries(by)
        .map(([label, count]) => `${label} ${count}`)
        .join("; ") || "none"
    }\n`;
  const pairs = associations.map(
    ({ kind, a, b, both, aOnly, bOnly, neither, phi, adjustedP }) =>
      `${kind}: ${a} + ${b}: both ${counts(both, n)}, one ${aOnly}, other ${bOnly}, neither ${neither}; phi ${phi === null ? "–" : phi.toFixed(2)}; adjusted p ${adjustedP.toFixed(4)}\n`,
  );
  return [
    `${n} incidents${from ? `, ${from} to ${to}` : ""}\n`,
    counted("setting", figures.bySetting),
    counted("antecedent", figures.byAntecedent),
    counted("behavior", figures.byBehavior),
    counted("consequence", figures.byConsequence),
    counted("function", figures.byFunction),
    counted("month", figures.byMonth),
    counted("weekday", figures.byWeekday),
    counted("hour", figures.byHour),
    `grid: ${grid.map(([weekday, hour, count]) => `${weekday}/${hour} h ${count}`).join("; ") || "none"}\n`,
    `intensity: ${intensity.n} given${intensity.mean === null ? "" : `, mean ${intensity.mean.toFixed(2)}, median ${intensity.median}`}\n`,
    `minutes: ${minutes.n} given, ${minutes.total} in all${minutes.median === null ? "" : `, median ${minutes.median}, longest ${minutes.longest}`}\n`,
    ...pairs,
  ].join("");
}

/** `figures incidents`: a CSV of ABC records in; what they have in common out. */
export function figuresIncidents(text: string, options: { json: boolean }): string {
  const incidents = readCsv(text, columns)
    .filter(({ empty }) => !empty)
    .map(({ cells, line }) => readIncident(cells, line));
  const figures = incidentFigures(incidents);
  return options.json ? json(figures) : table(figures);
}
