import { plainFigure } from "../amounts.ts";
import type { SidesWords } from "../en/sides.ts";
import { changesEs } from "./changes.ts";
import { progressEs } from "./progress.ts";
import { spanish } from "./spanish.ts";

const { whole, oneOr, figure, date } = spanish;

const noTrend = {
  "one day": "ninguna: solo hay un día",
  phases: "ninguna: las mediciones son de más de una fase",
};

/** Two sides of a comparison; Spanish. */
export const sidesEs: SidesWords = {
  none: () => ["mediciones", "ninguna"],
  points: (n, from, to) => ["mediciones", `${whole(n)}, del ${date(from, "year")} al ${date(to, "year")}`],
  median: (phase, value, unit) => [
    phase === null ? "mediana" : `mediana, ${phase || "antes de la primera fase"}`,
    figure(value, unit),
  ],
  range: (min, max, unit) => [
    "de la menor a la mayor",
    `de ${plainFigure(min, unit)} a ${figure(max, unit)}`,
  ],
  allTogether: (of, all) => ["en conjunto", changesEs.pooledShare((100 * of) / all, of, all)],
  trend: (perWeek, unit) => ["tendencia", progressEs.slope(perWeek, unit)],
  noTrend: (why) => ["tendencia", noTrend[why]],
  last: (value, unit) => ["última", figure(value, unit)],
  nothingToCompare: () => "Un lado no tiene mediciones, así que no hay nada que comparar.",
  severalPhases: () => "Un lado abarca más de una fase. Elija una fase de cada lado para compararlas.",
  tooFewForChange: (title, n) =>
    `“${title}”: ${whole(n)} ${oneOr(n, "medición", "mediciones")}, muy pocas para ver un cambio.`,
  ownChange: (title, levels, isByPhases) =>
    `“${title}”: ${figure(levels.before, levels.unit)} → ${figure(levels.after, levels.unit)}, ${changesEs.difference(levels)} (${
      isByPhases
        ? "mediana de la primera fase a la última"
        : "mediana de las 3 primeras mediciones a las 3 últimas"
    }).`,
  medians: (levels, left, right, pairs) =>
    `Mediana de ${figure(levels.before, levels.unit)} en ${whole(left)} ${oneOr(left, "medición", "mediciones")} a la izquierda y de ${figure(levels.after, levels.unit)} en ${whole(right)} a la derecha: ${changesEs.difference(levels)}${
      pairs ? `; ${changesEs.pairs(pairs)}` : ""
    }.`,
};
