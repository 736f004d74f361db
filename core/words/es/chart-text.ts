import type { ChartTextWords } from "../en/chart-text.ts";
import { spanish } from "./spanish.ts";

/** What is told of a chart where it is made; Spanish. */
export const chartTextEs: ChartTextWords = {
  baseline: () => "línea base",
  errors: () => "errores",
  metOn: (on) => `Criterio alcanzado el ${spanish.date(on, "day")}`,
  description: ({ unit, points, notCounted, blank, criterion, aim, metOn }) => {
    const says = (value: number) => spanish.figure(value, unit);
    return [
      points
        ? `${spanish.whole(points.n)} ${spanish.oneOr(points.n, "medición", "mediciones")} del ${spanish.date(points.from, "day")} al ${spanish.date(points.to, "day")}; la más baja, ${says(points.lowest)}; la más alta, ${says(points.highest)}; la última, ${says(points.last)}.`
        : "Todavía no hay mediciones.",
      points && notCounted > 0
        ? `${spanish.whole(notCounted)} no ${spanish.oneOr(notCounted, "cuenta", "cuentan")} para el criterio.`
        : "",
      points && blank > 0 ? `${spanish.whole(blank)} sin valor.` : "",
      criterion === null ? "" : `El criterio es ${says(criterion)}.`,
      aim
        ? `El avance esperado va de ${says(aim.from)} a ${says(aim.to)} el ${spanish.date(aim.on, "full")}.`
        : "",
      points && metOn ? `Criterio alcanzado el ${spanish.date(metOn, "full")}.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  },
};
