import type { ReportWords } from "../en/report.ts";
import { spanish } from "./spanish.ts";

const { date, outOf, figure, capital } = spanish;

const decisions = {
  "keep going": "se decidió seguir igual",
  raise: "se decidió elevar el criterio",
  "change instruction": "se decidió cambiar la enseñanza",
  "new phase": "se decidió empezar una fase nueva",
  "more data": "se decidió reunir antes más datos",
  "taught as planned": "se enseñó como estaba previsto",
};

/** What a report says around its entries; Spanish. */
export const reportEs: ReportWords = {
  running: () => "Informe continuo",
  goals: () => "Metas",
  goal: () => "Meta",
  entries: () => "Registros",
  incidents: () => "Incidentes",
  noEntries: () => "Todavía no hay registros. Cada registro aparece aquí cuando se guarda.",
  day: (on) => capital(date(on, "long")),
  grade: (grade) => `grado ${grade}`,
  iepTo: (on) => `IEP hasta el ${date(on, "full")}`,
  lastFigure: ({ value, unit, numerator, denominator }, on) => {
    const shown = value === null ? "sin puntuar" : figure(value, unit);
    const isCounted = value !== null && numerator !== null && denominator !== null;
    return `${shown}${isCounted ? ` (${outOf(numerator, denominator)})` : ""} el ${date(on, "long")}`;
  },
  notMeasuredYet: () => "todavía sin medir",
  criterion: (criterion) => `criterio: ${criterion}`,
  due: (on) => `fecha límite: ${date(on, "full")}`,
  aboutLast: (counted, entry, on) =>
    [counted ? outOf(counted.numerator, counted.denominator) : entry, date(on, "whole")]
      .filter(Boolean)
      .join(", "),
  interval: (low, high) => `intervalo del 95%: ${low}–${high}`,
  decision: (goal, kind, phase) => `${goal}: ${decisions[kind]}${phase ? `; empieza “${phase}”` : ""}.`,
  toCheck: (finding, strength) =>
    `Por comprobar${strength === "weak" ? " (débil, puede ser azar)" : ""}: ${capital(finding)}.`,
  countedFrom: (from, to) =>
    `Contado entre los incidentes registrados del ${date(from, "full")} al ${date(to, "full")}; no es una causa.`,
};
