import type { LabelCountArgs, ReportWords } from "../en/report.ts";
import { fixedDecimals } from "../fixed-decimals.ts";
import { spanish } from "./spanish.ts";

const { date, time, outOf, figure, capital, list, whole, oneOr, countOf } = spanish;

const decisions = {
  "keep going": "se decidió seguir igual",
  raise: "se decidió elevar el criterio",
  "change instruction": "se decidió cambiar la enseñanza",
  "new phase": "se decidió empezar una fase nueva",
  "more data": "se decidió reunir antes más datos",
  "taught as planned": "se enseñó como estaba previsto",
};

const labelCounts = (labels: readonly LabelCountArgs[]) =>
  list(labels.map(({ label, n }) => `${label} (${whole(n)})`));
const schoolDays = (n: number) => `${whole(n)} ${oneOr(n, "día observado", "días observados")} de clase`;

/** What a report says around its entries; Spanish. */
export const reportEs: ReportWords = {
  running: () => "Informe continuo",
  glance: () => "De un vistazo",
  goals: () => "Metas",
  goal: () => "Meta",
  behavior: () => "Conducta",
  log: (order, hasIncidents) =>
    `${hasIncidents ? "Registros e incidentes" : "Registros"} por ${order === "time" ? "día" : "meta"}`,
  incidents: () => "Incidentes",
  meeting: { agreed: "Acordado en reuniones", question: "Preguntas de reuniones" },
  parents: {
    title: "Declaración de la familia",
    incidents: "incidentes",
    by: (whom, on, about) => `${whom}, ${date(on, "year")}${about === null ? "" : `, sobre: ${about}`}`,
  },
  assessment: {
    called: () => "Evaluación",
    columns: { criterion: "Aspecto", level: "Alcanzado", meaning: "Qué significa" },
    level: (level, max) => `${whole(level)} de ${whole(max)}`,
    about: (on, points, most) =>
      `${capital(date(on, "shortYear"))}, ${whole(points)} de ${whole(most)} ${oneOr(most, "punto", "puntos")}`,
    by: (author) => `Evaluado por ${author}`,
  },
  noGoals: () => "No había ninguna meta abierta en este período.",
  noEntries: () => "Todavía no hay registros. Cada registro aparece aquí cuando se guarda.",
  day: (on) => capital(date(on, "shortYear")),
  labels: {
    grade: "Grado",
    school: "Escuela",
    iep: "IEP",
    team: "Equipo de apoyo",
    covers: "Período",
    prepared: "Preparado",
    criterion: "Criterio",
    due: "Fecha límite",
    baseline: "Línea base",
    now: "Lo último",
    well: "Va bien",
    decide: "Hay que decidir",
    going: "En camino",
    changed: "Qué cambió",
    decided: "Decisiones",
    carried: "De qué se compone el resultado",
    findings: "Por comprobar",
    plans: "Planes",
    thinking: "Qué puede estar pasando",
    trying: "Qué se prueba",
  },
  span: (from, to) =>
    from === null ? `hasta el ${date(to, "full")}` : `del ${date(from, "full")} al ${date(to, "full")}`,
  member: (name, position) => (position ? `${name}, ${position}` : name),
  on: (on) => date(on, "full"),
  pace: {
    enough: "Suficiente",
    "not-enough": "No es suficiente",
    unclear: "Todavía no está claro",
  },
  parts: (best, bestWords, least, leastWords) =>
    `Lo más alto: ${best}, ${bestWords}. Lo más bajo: ${least}, ${leastWords}.`,
  carried: (by, shares) =>
    `Por ${by === "person" ? "persona" : "lugar"}: ${list(shares.map(({ name, words }) => `${name} ${words}`))}.`,
  incidentsIn: (n, days, rate) =>
    `${capital(countOf(n, "incidente", "incidentes", "m"))} en ${schoolDays(days)}: ${rate}.`,
  incidentsBriefly: (n, days) =>
    `${capital(countOf(n, "incidente", "incidentes", "m"))} en ${schoolDays(days)}.`,
  weeklyBefore: (before, now) =>
    `${fixedDecimals(now, 1, "es-US")} por semana en este período de informe; ${fixedDecimals(before, 1, "es-US")} en el anterior.`,
  noIncidents: (days) => `No se registró ningún incidente en ${schoolDays(days)}.`,
  noObservedDay: () => "En este período no se observó ningún día de clase.",
  silentDays: (n) =>
    `${whole(n)} de estos días no ${oneOr(n, "tiene", "tienen")} ningún registro y ${oneOr(n, "cuenta", "cuentan")} como 0.`,
  sincePeriod: (before, after, changed) => `${before} en comparación con ${after}. ${changed}`,
  soFar: (period) => `${period} hasta ahora`,
  mostOften: (behaviors, antecedents) =>
    [
      `Lo registrado con más frecuencia: ${labelCounts(behaviors)}.`,
      ...(antecedents.length > 0 ? [`Justo antes: ${labelCounts(antecedents)}.`] : []),
    ].join(" "),
  weeks: () => "Incidentes por semana",
  weekTick: (from) => date(from, "day"),
  by: (on, at, author) =>
    [on && date(on, "shortYear"), /^\d{2}:\d{2}$/.test(at) ? time(at) : at, author]
      .filter(Boolean)
      .join(" · "),
  week: (from, n, days) =>
    `Semana del ${date(from, "full")}: ${countOf(n, "incidente", "incidentes", "m")} en ${schoolDays(days)}`,
  planDays: (from, to) =>
    to === null ? `desde el ${date(from, "full")}` : `del ${date(from, "full")} al ${date(to, "full")}`,
  value: (value, unit) => figure(value, unit),
  countedOn: (counted, on) =>
    [counted ? outOf(counted.numerator, counted.denominator) : null, date(on, "year")]
      .filter(Boolean)
      .join(", "),
  legend: (parts) => `En las gráficas: ${parts.join("; ")}.`,
  medianOf: (n) => (n === 1 ? "una medición" : `mediana de ${whole(n)} mediciones`),
  enteredFor: (on) => `anotada para el ${date(on, "full")}`,
  glanceGoal: (title, figures, standing, pace, stale) =>
    [
      `${[`${title}:`, figures.join("\u00a0→\u00a0")].filter(Boolean).join(" ")}${figures.length > 0 ? "." : ""}`,
      `${standing}.`,
      ...(stale ? [stale] : pace ? [`Ritmo: ${pace.toLowerCase()}.`] : []),
    ].join(" "),
  glanceNotMeasured: (title) => `${title}: todavía sin medir.`,
  aboutLast: (counted, entry, on) =>
    [counted ? outOf(counted.numerator, counted.denominator) : entry, date(on, "whole")]
      .filter(Boolean)
      .join(", "),
  interval: (low, high) => `intervalo del 95%: ${low}–${high}`,
  decision: (goal, kind, phase) => `${goal}: ${decisions[kind]}${phase ? `; empieza “${phase}”` : ""}.`,
  decided: (kind, phase) => `${capital(decisions[kind])}${phase ? `; empieza “${phase}”` : ""}.`,
  toCheck: (finding, strength) =>
    `Por comprobar${strength === "weak" ? " (débil, puede ser azar)" : ""}: ${capital(finding)}.`,
  countedFrom: (from, to) =>
    `Contado entre los incidentes registrados del ${date(from, "full")} al ${date(to, "full")}; no es una causa.`,
};
