import { readSeries } from "#core/files/read-series.ts";
import { seriesReport } from "#core/files/series-report.ts";

const shown = (value: number | null, digits = 2) => (value === null ? "–" : value.toFixed(digits));

/** `figures progress`: a CSV of series in; trend, phases, mastery, aim line, rules and projection of each out. */
export function figuresProgress(text: string, { json }: { json: boolean }): string {
  const series = readSeries(text).map(seriesReport);
  if (json) return `${JSON.stringify({ series }, null, 2)}\n`;
  return series
    .map(({ ols, theilSen, kendall, mastery, projection, ...one }) =>
      [
        `${one.series}: ${one.n} points, ${one.from ?? "–"} to ${one.to ?? "–"}`,
        `  a week: ${shown(theilSen?.slopePerWeek ?? null)} (Theil–Sen), ${shown(ols?.slopePerWeek ?? null)} (least squares); tau-b ${shown(kendall?.tauB ?? null)}, p ${shown(kendall?.p ?? null, 3)}`,
        ...one.phases.map(
          ({ phase, n, mean, median, sd, min, max }) =>
            `  ${phase}: ${n} points, mean ${shown(mean)}, median ${shown(median)}, sd ${shown(sd)}, ${min} to ${max}`,
        ),
        ...one.comparisons.map(
          ({ before, after, nap, napLow, napHigh, tau, tauU, pnd, pem, mannWhitneyP, percentChange }) =>
            `  ${before} → ${after}: NAP ${shown(nap)} (${shown(napLow)} to ${shown(napHigh)}), Tau ${shown(tau)}, Tau-U ${shown(tauU)}, PND ${shown(pnd, 0)}, PEM ${shown(pem, 0)}, p ${shown(mannWhitneyP, 3)}, change ${shown(percentChange, 0)}%`,
        ),
        `  ${mastery ? (mastery.met ? `criterion reached ${mastery.on}` : "criterion not reached") : "no criterion"}${mastery ? `, ${mastery.inWindow} of ${mastery.needed} now` : ""}; four-point ${one.fourPoint ?? "–"}`,
        projection
          ? `  on ${projection.at}: ${shown(projection.mean)} (80%: ${shown(projection.low80)} to ${shown(projection.high80)}), chance of the criterion ${shown(projection.probability)}, expected ${projection.expectedOn ?? "–"}`
          : `  no projection`,
      ].join("\n"),
    )
    .map((said) => `${said}\n`)
    .join("");
}
