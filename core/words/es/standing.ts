import type { CriterionStateArgs, StandingWords } from "../en/standing.ts";
import { spanishOccasions } from "./occasions.ts";
import { spanish } from "./spanish.ts";

const { countOf, countWord, oneOr, outOf, date, capital } = spanish;

const names: StandingWords["names"] = {
  met: "Meta cumplida",
  reached: "Criterio alcanzado",
  lost: "Ya no se cumple",
  "new-phase": "Fase nueva",
  "too-few": "Pocas mediciones todavía",
  "past-due": "Fecha límite vencida",
  ahead: "Por delante de lo esperado",
  behind: "Por detrás de lo esperado",
  on: "Según lo esperado",
  "no-line": "Sin línea de avance esperado",
};

const lastPoints = {
  "last four": "Las últimas cuatro mediciones están todas",
  "seven of eight": "Siete de las últimas ocho mediciones están",
};

const measurements = (n: number) => capital(countOf(n, "medición", "mediciones", "f"));

/** "alcanzaron 80% y 95% de precisión", "no pasó de 10%" */
function didMeet({ direction, value, unit, joined }: CriterionStateArgs, count: number): string {
  const verb = direction === "increase" ? ["alcanzó", "alcanzaron"] : ["no pasó de", "no pasaron de"];
  return `${count > 1 ? verb[1] : verb[0]} ${spanish.list([spanish.figure(value, unit), ...joined])}`;
}

/** "dos de las últimas cuatro sesiones alcanzaron 80%" */
function lastOccasions(state: CriterionStateArgs): string {
  const { occasion, n, inWindow, of } = state;
  const { one, many, gender } = spanishOccasions[occasion];
  const f = gender === "f";
  if (n === 1 || of === 1)
    return `${f ? "la última" : "el último"} ${one} ${inWindow === 1 ? didMeet(state, 1) : "no lo cumplió"}`;
  const some = inWindow === 0 ? (f ? "ninguna" : "ninguno") : inWindow === 1 ? (f ? "una" : "uno") : null;
  return `${some ?? countWord(inWindow, gender)} de ${f ? "las últimas" : "los últimos"} ${countWord(of, gender)} ${many} ${didMeet(state, inWindow)}`;
}

function seenSoFar(state: CriterionStateArgs): string {
  const { occasion, n, inWindow, of } = state;
  const { one, many, gender } = spanishOccasions[occasion];
  const f = gender === "f";
  if (of === 0) return `${f ? "Ninguna" : "Ningún"} ${one} cuenta todavía para el criterio`;
  if (of >= n) {
    if (inWindow > 0) return capital(lastOccasions(state));
    return n === 1
      ? `${f ? "La última" : "El último"} ${one} todavía no lo cumplió`
      : `${f ? "Ninguna" : "Ningún"} ${one} reciente ${didMeet(state, 1)}`;
  }
  const all = `${countOf(of, one, many, gender)} hasta ahora`;
  if (inWindow === 0) return `${capital(all)}; ${f ? "ninguna" : "ninguno"} ${didMeet(state, 1)}`;
  if (inWindow === of) return `${capital(all)} ${didMeet(state, of)}`;
  const some = inWindow === 1 ? (f ? "una" : "uno") : countWord(inWindow, gender);
  return `${capital(some)} de ${all} ${didMeet(state, inWindow)}`;
}

function needed({ k, n, inWindow, occasion }: CriterionStateArgs): string {
  const { gender } = spanishOccasions[occasion];
  const f = gender === "f";
  const missing = k - inWindow;
  if (missing <= 0) return "";
  const some = (count: number) => (count === 1 ? (f ? "una" : "uno") : countWord(count, gender));
  if (inWindow > 0) return `; ${oneOr(missing, "falta", "faltan")} ${some(missing)} más`;
  const row = k === n && n > 1 ? ` ${f ? "seguidas" : "seguidos"}` : "";
  return `; ${oneOr(k, "hace falta", "hacen falta")} ${some(k)}${row}${k < n ? ` de ${countWord(n, gender)}` : ""}`;
}

/** Where a goal stands; Spanish. */
export const standingEs: StandingWords = {
  names,
  confirmed: (on) => `Confirmada el ${date(on, "long")}.`,
  newPhase: (n, changedOn, before) =>
    `${measurements(n)} desde que empezó la fase nueva el ${date(changedOn, "long")}; se necesitan cuatro.${
      before === null ? "" : ` Antes: ${names[before].toLocaleLowerCase("es")}.`
    }`,
  tooFew: (n) =>
    n === 0
      ? "Todavía no hay ninguna medición en esta fase; se necesitan cuatro."
      : `${measurements(n)} en esta fase; se necesitan cuatro.`,
  noLine: {
    "no criterion": "No hay línea de avance esperado: la meta no tiene criterio.",
    "no due date": "No hay línea de avance esperado: la meta no tiene fecha límite.",
    "no baseline": "No hay línea de avance esperado: falta la línea base.",
    "one baseline point": "No hay línea de avance esperado: falta una segunda medición de línea base.",
    "baseline meets the criterion": "La línea base ya cumple el criterio. Hay que fijar otro criterio.",
    "due before the baseline":
      "No hay línea de avance esperado: la fecha límite no es posterior a la línea base.",
  },
  wasDue: (on) => `La fecha límite de la meta era el ${date(on, "full")}.`,
  side: (by, isAbove) =>
    `${lastPoints[by]} por ${isAbove ? "encima" : "debajo"} de la línea de avance esperado.`,
  bothSides: () => "Las últimas mediciones están a ambos lados de la línea de avance esperado, o sobre ella.",
  criterionReached: (on, state) => `El criterio se alcanzó el ${date(on, "long")}: ${lastOccasions(state)}.`,
  criterionLost: (on, state) =>
    `El criterio se alcanzó el ${date(on, "long")} y ya no se cumple: ${lastOccasions(state)}.`,
  criterionOpen: (state, settings, people) => {
    const missing = [
      settings && settings.seen < settings.needed
        ? `en ${outOf(settings.seen, settings.needed)} lugares`
        : "",
      people && people.seen < people.needed ? `con ${outOf(people.seen, people.needed)} personas` : "",
    ].filter(Boolean);
    return `${seenSoFar(state)}${needed(state)}.${missing.length > 0 ? ` Hasta ahora, ${missing.join(" y ")}.` : ""}`;
  },
  stale: (measuredOn, today) => `La última medición fue ${spanish.daysAgo(measuredOn, today)}.`,
};
