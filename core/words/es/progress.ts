import type { OutlookArgs, PaceArgs, ProgressWords, SeenArgs, SlopeArgs } from "../en/progress.ts";
import { plainFigure } from "../amounts.ts";
import { spanish } from "./spanish.ts";

const {
  countOf,
  countWord,
  oneOr,
  percent,
  figure,
  decimal,
  changeSize,
  changeNumber,
  outOf,
  date,
  capital,
} = spanish;

const verdicts: Record<PaceArgs["verdict"], string> = {
  enough: "El ritmo es suficiente.",
  "not-enough": "El ritmo no es suficiente.",
  unclear: "Todavía no está claro si el ritmo es suficiente.",
};

const unitOfChange = (unit: string) => (unit === "percent" ? " puntos" : "");

function interval({ low, high, unit }: SlopeArgs, isWithUnit: boolean): string {
  const [from, to] = [changeNumber(low ?? 0, unit), changeNumber(high ?? 0, unit)];
  if (low === null || high === null || (from === "0" && to === "0")) return "";
  return ` (intervalo del 95%: de ${from} a ${to}${isWithUnit ? `${unitOfChange(unit)} por semana` : ""})`;
}

const needs = (needed: number, unit: string) =>
  needed <= 0
    ? "Las últimas mediciones ya están en el criterio."
    : `Desde ahora la meta necesita ${changeSize(needed, unit) ?? decimal(needed)} por semana.`;

function gaining({ gain, low, high, needed, direction, unit, verdict }: PaceArgs): string {
  const size = changeSize(Math.abs(gain), unit) ?? `${decimal(Math.abs(gain))}${unitOfChange(unit)}`;
  const [better, worse] = direction === "increase" ? ["Gana", "Pierde"] : ["Baja", "Sube"];
  // Towards the criterion is written without a sign, away from it with a minus.
  const ends = (gain >= 0 ? [low, high] : [-high, -low]).map((end) => changeNumber(end, unit));
  const rest =
    needed <= 0
      ? "las últimas mediciones ya están en el criterio"
      : `la meta necesita ${changeNumber(needed, unit)}`;
  return `${gain > 0 ? better : worse} alrededor de ${size} por semana (de ${ends.join(" a ")}); ${rest}. ${verdicts[verdict]}`;
}

const seen = ({ points, weeks }: SeenArgs) =>
  `${capital(countOf(points, "medición", "mediciones", "f"))} en ${countOf(weeks, "semana", "semanas", "f")} de esta fase.`;

const taughtThrough = (on: string) => `La meta se enseñó como estaba previsto hasta el ${date(on, "long")}.`;

function spread({ low, high, least, greatest, unit }: OutlookArgs): string {
  if (low >= least && high <= greatest)
    return `, entre ${plainFigure(low, unit)} y ${figure(high, unit)} en 8 de 10 casos`;
  if (low >= least) return `, por encima de ${figure(low, unit)} en 9 de 10 casos`;
  return high <= greatest ? `, por debajo de ${figure(high, unit)} en 9 de 10 casos` : "";
}

function chanceOf({ chance, unit }: OutlookArgs): string {
  if (chance === null) return "";
  const { probability, value, direction } = chance;
  const shown =
    probability < 0.01
      ? `menor que ${percent(1)}`
      : probability > 0.99
        ? `mayor que ${percent(99)}`
        : `de ${percent(100 * probability)}`;
  return `; la probabilidad de que ${direction === "increase" ? "alcance" : "no pase de"} ${figure(value, unit)} es ${shown}`;
}

const towardsTarget = (total: number, target: number, unit: string) =>
  `${outOf(total, target)} ${spanish.unit(target, unit)}`;

const days = (left: number) =>
  left === 0
    ? "no queda ningún día de clase"
    : `${oneOr(left, "queda", "quedan")} ${countWord(left, "m")} ${oneOr(left, "día", "días")} de clase`;

const month = (on: string) => capital(date(on, "wholeMonth"));

const running = {
  day: ["Hoy hasta ahora", "Contará cuando termine el día."],
  week: ["Esta semana hasta ahora", "Contará cuando termine la semana."],
  month: ["Este mes hasta ahora", "Contará cuando termine el mes."],
} as const;

/** Trend, pace, advice, outlook, and a period that is still running; Spanish. */
export const progressEs: ProgressWords = {
  slope: (perWeek, unit) => {
    const size = changeSize(Math.abs(perWeek), unit);
    return size === null ? "Estable" : `${perWeek > 0 ? "Sube" : "Baja"} ${size} por semana`;
  },
  tooFewForTrend: (n) =>
    n === 0
      ? "Todavía no hay mediciones en esta fase."
      : `Muy pocas mediciones para ver una tendencia: ${countWord(n, "f")} hasta ahora; se necesitan cinco.`,
  noTrend: (args) => `Sin tendencia clara${interval(args, true)}.`,
  level: (args) => `Estable${interval(args, false)}.`,
  direction: (key, args) => {
    const size = changeSize(Math.abs(args.perWeek), args.unit);
    const verb = key === "rising" ? "Sube" : "Baja";
    return size === null
      ? `Estable, ${verb.toLowerCase()} muy poco${interval(args, false)}.`
      : `${verb} alrededor de ${size} por semana${interval(args, false)}.`;
  },
  paceTooEarly: (needed, unit) => `${needs(needed, unit)} Es pronto para juzgar el ritmo.`,
  paceFromHere: (needed, unit, verdict) => `${needs(needed, unit)} ${verdicts[verdict]}`,
  pace: gaining,
  confirm: () => "El criterio está alcanzado. Confirme la meta como cumplida.",
  raise: (args) => `${seen(args)} Considere una meta más ambiciosa.`,
  change: (args, taughtOn) =>
    `${seen(args)} ${
      taughtOn === null
        ? "¿Se enseñó la meta como estaba previsto? Si fue así, cambie algo."
        : `${taughtThrough(taughtOn)} Cambie algo.`
    }`,
  askTaught: (args) => `${seen(args)} ¿Se enseñó la meta como estaba previsto?`,
  duePassed: () => "La fecha límite ya pasó.",
  tooFewToProject: () => "Una proyección necesita seis mediciones en tres días de esta fase.",
  noSpread: () => "Todas las mediciones están en una línea, así que no se puede mostrar su dispersión.",
  tooEarlyToProject: () => "Es pronto para una proyección hasta la fecha límite.",
  wouldPass: (end, unit) =>
    `La tendencia pasaría de ${figure(end, unit)}, así que no se muestra una proyección.`,
  outlook: (args) =>
    `Si esto sigue igual, una sesión el ${date(args.dueOn, "full")} estaría alrededor de ${figure(args.mean, args.unit)}${spread(args)}${chanceOf(args)}.`,
  totalSoFar: (total, target, unit) => `${towardsTarget(total, target, unit)} hasta ahora.`,
  totalThisPeriod: ({ period, on, total, target, unit, daysLeft }) =>
    `${period === "month" ? month(on) : "Esta semana"}: ${towardsTarget(total, target, unit)}; ${days(daysLeft)}.`,
  totalLastPeriod: ({ period, on, total, target, unit }) =>
    `${period === "month" ? month(on) : "La semana pasada"}: ${towardsTarget(total, target, unit)}.`,
  runningPeriod: (period, value, unit) => {
    const [when, rest] = running[period];
    return `${when}: ${figure(value, unit)}. ${rest}`;
  },
};
