import type { GoalHistoryWords } from "../en/goal-history.ts";
import { spanish } from "./spanish.ts";

const { date } = spanish;

const acts = {
  met: "Cumplida",
  "not met": "No cumplida",
  discontinued: "Interrumpida",
  continued: "Continuada",
  "taken up again": "Retomada",
};

const kinds = {
  trials: "intentos, correctos o no",
  supports: "niveles de ayuda",
  skills: "una cuadrícula de destrezas",
  checklist: "una lista de elementos",
  steps: "un análisis de tarea por pasos",
  count: "un conteo o una frecuencia",
  duration: "duración",
  latency: "latencia",
  intervals: "intervalos",
  fluency: "fluidez",
  rubric: "una rúbrica",
  outcomes: "resultados con nombre",
  "running-total": "un total acumulado",
};

const since = (on: string) => `desde el ${date(on, "long")}`;
const until = (on: string | null) => (on === null ? "sin fecha" : date(on, "full"));

/** What happened to the set-up of a goal; Spanish. */
export const goalHistoryEs: GoalHistoryWords = {
  setUp: (criterion) => `Meta definida: ${criterion ?? "todavía sin criterio"}`,
  changed: () => "Definición cambiada",
  act: (act, on) => `${acts[act]} el ${date(on, "long")}`,
  wording: (on, before) => `Redacción cambiada ${since(on)}; antes: “${before}”`,
  criterion: (on, now, before) => `Criterio ${since(on)}: ${now ?? "ninguno"}; antes: ${before ?? "ninguno"}`,
  measure: (on) => `Medición cambiada ${since(on)}`,
  kind: (on, now, before) => `Se mide con ${kinds[now]} ${since(on)}; antes: ${kinds[before]}`,
  due: (now, before) => `Fecha límite: ${until(now)}; antes: ${until(before)}`,
  number: (now, before) => `Número ${now}; antes: ${before}`,
  title: (now, before) => `Nombre: “${now}”; antes: “${before}”`,
};
