import { type ChangesWords, type LevelsArgs, type PairsArgs, shownDifference } from "../en/changes.ts";
import { spanishLevels } from "./levels.ts";
import { spanish } from "./spanish.ts";

const { whole, oneOr, percent, figure, changeSize, date, outOf } = spanish;

const measurements = (n: number) => oneOr(n, "medición", "mediciones");

const pairNames: Record<PairsArgs["between"], readonly [after: string, before: string]> = {
  baseline: ["las mediciones desde el cambio", "las de la línea base"],
  phases: ["las mediciones desde el cambio", "las anteriores"],
  points: ["las mediciones posteriores", "las anteriores"],
};

function difference(args: LevelsArgs): string {
  const { unit } = args;
  const change = shownDifference(args);
  const points = Math.round(Math.abs(change));
  const size =
    unit === "percent"
      ? points === 0
        ? null
        : `${whole(points)} ${oneOr(points, "punto", "puntos")}`
      : changeSize(Math.abs(change), unit);
  return size === null ? "sin cambio" : `${change > 0 ? "+" : "−"}${size}`;
}

const levels = (args: LevelsArgs) =>
  `${figure(args.before, args.unit)} → ${figure(args.after, args.unit)}, ${difference(args)}`;

function pairs({ nap, low, high, of, hasTies, between }: PairsArgs): string {
  const [after, before] = pairNames[between];
  const asides = [
    hasTies ? "los empates cuentan la mitad" : "",
    low === null || high === null
      ? ""
      : `intervalo del 95%: ${Math.round(100 * low)}–${Math.round(100 * high)}`,
  ].filter(Boolean);
  const aside = asides.length > 0 ? ` (${asides.join("; ")})` : "";
  return `${after} fueron mejores que ${before} en ${percent(100 * nap)} de ${whole(of)} ${oneOr(of, "comparación", "comparaciones")}${aside}`;
}

const andPairs = (args: PairsArgs | null) => (args === null ? "" : `; ${pairs(args)}`);

const usually = (step: number, unit: string) => {
  const size = changeSize(step, unit);
  return size === null ? "" : ` Una medición suele diferir de la siguiente en ${size}.`;
};

/** What changed, and what to keep in mind with it; Spanish. */
export const changesEs: ChangesWords = {
  difference,
  pairs,
  sinceBaseline: (args, from, n, seen) => {
    const what =
      "points" in from
        ? `mediana de ${whole(from.points)} ${measurements(from.points)} de línea base`
        : `registrada para el ${date(from.enteredFor, "full")}`;
    return `Desde la línea base: ${levels(args)} (${what}, de ${whole(n)} ahora)${andPairs(seen)}.`;
  },
  sincePhase: (name, args, n, seen) =>
    `Desde que empezó “${name}”: ${levels(args)} (medianas de ${whole(n.before)} ${measurements(n.before)} antes, ${whole(n.after)} desde entonces)${
      seen === null
        ? "; para comparar más se necesitan al menos tres mediciones de cada lado"
        : andPairs(seen)
    }.`,
  inPeriod: (name, args, each, n) =>
    `En ${name} hasta ahora: ${levels(args)} (medianas de las primeras ${whole(each)} y las últimas ${whole(each)} de ${whole(n)}).`,
  sincePeriod: (name, endedOn, args, n) =>
    `Desde que terminó ${name} el ${date(endedOn, "long")}: ${levels(args)} (medianas de las últimas ${whole(n.before)} entonces, ${whole(n.after)} después).`,
  overBreak: ({ name, levels: args, n, back, step }) => {
    const level = figure(args.before, args.unit);
    const tail =
      back === null
        ? ""
        : back === "not yet"
          ? `; todavía no ha vuelto a ${level}`
          : `; de vuelta en ${level} el ${date(back.on, "long")}, a los ${whole(back.schoolDay)} ${oneOr(back.schoolDay, "día", "días")} de clase`;
    return `Durante ${name}: ${levels(args)} (medianas de las últimas ${whole(n.before)} antes, las primeras ${whole(n.after)} después)${tail}.${usually(step, args.unit)}`;
  },
  plainly: (since, { before, after, unit }) => {
    const [was, is] = [figure(before, unit), figure(after, unit)];
    const when = {
      baseline: () => "Desde el principio",
      phase: (name: string) => `Desde que empezó “${name}”`,
      "this period": (name: string) => `En ${name} hasta ahora`,
      "last period": (name: string) => `Desde que terminó ${name}`,
      break: (name: string) => `Durante ${name}`,
    }[since.kind](since.name);
    return was === is ? `${when}: más o menos igual, ${is}.` : `${when}: de ${was} a ${is}.`;
  },
  blankPoints: (n, of) =>
    `${outOf(n, of)} ${measurements(of)} de esta fase no ${oneOr(n, "dio", "dieron")} un valor. La tendencia no ${oneOr(n, "la", "las")} incluye.`,
  fewToCompare: (few) =>
    `Pocas mediciones para comparar: ${few
      .map(({ name, n }) => `${whole(n)} en ${name === null ? "la línea base" : `“${name}”`}`)
      .join(", ")}. Se recomiendan al menos cinco por fase.`,
  changedWithPhase: (what, from, to) =>
    what === "observer"
      ? `Quien observa cambió con la fase, de ${from} a ${to}. Eso puede explicar la diferencia.`
      : `El lugar cambió con la fase, de ${from} a ${to}. Eso puede explicar la diferencia.`,
  fewOpportunities: (usual) =>
    `Cada medición tiene ${whole(usual)} ${oneOr(usual, "oportunidad", "oportunidades")}: una más o una menos la mueve ${whole(Math.round(100 / usual))} puntos.`,
  lowAgreement: (agreed, sessions, wanted) =>
    `Dos observadores coincidieron en ${percent(agreed)} (valor medio de ${whole(sessions)} ${oneOr(sessions, "sesión", "sesiones")}); se recomienda al menos ${percent(wanted)}.`,
  independence: (level, perWeek, credited) =>
    `La independencia crece: las oportunidades en “${spanishLevels.levelName(level)}” suben ${changeSize(perWeek, "percent") ?? ""} por semana, mientras que las acreditadas (${spanishLevels.creditedHelp(credited)}) siguen estables.`,
  pooledShare: (value, numerator, denominator) => `${percent(value)} (${outOf(numerator, denominator)})`,
  weekday: spanish.weekday,
  meanOfSessions: (value, unit) => `promedio de sesiones ${figure(value, unit)}`,
};
