import { incidentFigures, type IncidentFigures } from "#core/incidents/incident-figures.ts";
import { counts } from "#core/words/numbers.ts";
import { fileEpisodes, readIncidents } from "#core/files/read-incidents.ts";

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
  const file = readIncidents(text);
  // Only a file that says so has episodes here; `figures findings` makes them itself.
  const tested = file.hasEpisodes ? fileEpisodes(file).flatMap(([first]) => first ?? []) : file.rows;
  const figures = incidentFigures(file.rows, tested);
  return options.json ? json(figures) : table(figures);
}
