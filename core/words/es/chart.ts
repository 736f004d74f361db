import { lengthOfTime, plainFigure } from "../amounts.ts";
import type { ChartWords } from "../en/chart.ts";
import { spanishLevels } from "./levels.ts";
import { spanish } from "./spanish.ts";

const pers = {
  session: "por sesión",
  day: "por día",
  week: "por semana",
  month: "por mes",
  minute: "por minuto",
  hour: "por hora",
};
const times = { total: "Tiempo total", mean: "Tiempo medio", longest: "Tiempo más largo" };
const delays = { median: "Demora mediana", mean: "Demora media" };
const periods = { week: " en la semana", month: " en el mes" };

/** What is written in a chart and beside it; Spanish. */
export const chartEs: ChartWords = {
  percentCorrect: () => "Porcentaje de respuestas correctas",
  percentCredited: (credited) => `Porcentaje ${spanishLevels.creditedHelp(credited)}`,
  percentSkills: () => "Porcentaje de destrezas",
  percentKnown: () => "Porcentaje dominado",
  percentSteps: () => "Porcentaje de pasos",
  counted: (counted, per) => `${spanish.capital(counted || "veces")} ${pers[per]}`,
  percentOfTime: () => "Porcentaje del tiempo",
  time: (report, per) => `${times[report]} ${pers[per]}`,
  percentWithin: (seconds) => `Porcentaje en menos de ${lengthOfTime(seconds)}`,
  delay: (report) => delays[report],
  percentIntervals: () => "Porcentaje de intervalos",
  fluency: (counted) => {
    const { many, correct } = spanish.fluencyUnit(counted);
    return `${spanish.capital(many)} ${correct} por minuto`;
  },
  percentRubric: () => "Porcentaje de puntos de la rúbrica",
  credit: () => "Crédito, en porcentaje",
  total: (unit, period) => `Total de ${spanish.unit(2, unit)}${period ? periods[period] : ""}`,
  criterion: (value, unit) => `criterio ${plainFigure(value, unit)}`,
  aimLine: () => "avance esperado",
  trend: () => "tendencia",
  ticks: {
    first: (on) => spanish.date(on, "year"),
    month: (on) => spanish.date(on, "month"),
    january: (on) => spanish.date(on, "monthYear"),
    week: (on) => spanish.date(on, "day"),
  },
  legendMeasured: () => "punto lleno: medición",
  legendBaseline: () => "punto abierto: línea base",
  legendNotCounted: () => "punto gris pequeño: no cuenta para el criterio",
  legendNoFigure: () => "triángulo: sin valor",
  legendTrend: () => "línea continua: tendencia",
  legendAim: () => "línea discontinua: avance esperado",
  legendCriterion: () => "línea de puntos: criterio",
  legendOthers: (labels) => `línea discontinua fina: ${labels.join(", ")}`,
  legendShapes: (labels) => `formas: ${labels.join(", ")}`,
};
