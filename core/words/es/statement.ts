import type { PeriodLevelArgs, GainArgs, StatementWords, TargetArgs } from "../en/statement.ts";
import { spanish } from "./spanish.ts";

const { figure, date, list, countOf, outOf, percent, changeSize } = spanish;

const units: Record<PeriodLevelArgs["occasion"], readonly [singular: string, many: string]> = {
  session: ["sesión", "sesiones"],
  day: ["día", "días"],
  week: ["semana", "semanas"],
  month: ["mes", "meses"],
};
const genders = { session: "f", day: "m", week: "f", month: "m" } as const;

/** Reporting periods as schools in the United States usually call them. Another name stays as the school wrote it. */
const periodNames: Readonly<Record<string, string>> = {
  trimester: "Trimestre",
  semester: "Semestre",
  term: "Período",
  quarter: "Período",
  "reporting period": "Período",
};
const periodName = (name: string) =>
  name.replace(/^[a-z ]*[a-z]/i, (kind) => periodNames[kind.toLowerCase()] ?? kind);
const periodWords = ({ period, isOver }: Pick<PeriodLevelArgs, "period" | "isOver">) =>
  isOver ? periodName(period) : `${periodName(period)} hasta ahora`;
const inCounts = (counted: PeriodLevelArgs["counted"], more = "") =>
  counted === null ? "" : ` (${outOf(counted.numerator, counted.denominator)}${more})`;
const inAll = ({ numerator, denominator }: NonNullable<PeriodLevelArgs["counted"]>) =>
  `, ${percent((100 * numerator) / Math.max(1, denominator))} en total`;
const occasions = ({ n, occasion, counted }: PeriodLevelArgs) =>
  `en ${countOf(n, ...units[occasion], genders[occasion])}${inCounts(counted, counted ? inAll(counted) : "")}`;

function compared({ baseline, before, unit }: PeriodLevelArgs): string {
  const others = [
    ...(before === null ? [] : [`${figure(before.value, unit)} en ${periodName(before.name)}`]),
    ...(baseline === null ? [] : [`${figure(baseline, unit)} en la línea base`]),
  ];
  return others.length === 0 ? "" : `, en comparación con ${list(others)}`;
}

const toTarget = ({ target, unit, direction, dueOn }: TargetArgs) =>
  `${direction === "increase" ? "alcanzar" : "bajar a"} ${figure(target, unit)} antes del ${date(dueOn, "full")}`;

const verdicts = {
  enough: (target: string) => `El progreso es suficiente para ${target}.`,
  "not-enough": (target: string) => `El progreso no es suficiente para ${target}.`,
  unclear: (target: string) => `Todavía no está claro si el progreso es suficiente para ${target}.`,
  "too-early": (target: string) =>
    `Todavía es pronto para saber si el progreso es suficiente para ${target}.`,
};

function rate({ gain, needed, unit, direction }: GainArgs): string {
  const size = gain === null ? null : changeSize(Math.abs(gain), unit);
  const wanted = needed <= 0 ? null : changeSize(needed, unit);
  const [better, worse] =
    direction === "increase" ? ["El aumento", "La pérdida"] : ["La disminución", "El aumento"];
  const there = "los últimos puntos ya están en el criterio";
  if (size === null || gain === null)
    return wanted === null
      ? "Los últimos puntos ya están en el criterio."
      : `A partir de ahora la meta necesita ${wanted} por semana.`;
  return `${gain > 0 ? better : worse} es de unos ${size} por semana; ${wanted === null ? there : `la meta necesita ${wanted}`}.`;
}

/** The drafted sentences of a progress statement; Spanish. */
export const statementEs: StatementWords = {
  label: (period) => `Informe de progreso, ${periodName(period)}`,
  rating: (rating) => `Valoración: ${rating}.`,
  level: (args) => {
    const { name, n, occasion, value, unit, counted, isTotal } = args;
    const period = periodWords(args);
    const shown = figure(value, unit);
    if (isTotal) return `Al final de ${period}, ${name} sumó ${shown}${compared(args)}.`;
    return n === 1
      ? `En ${period}, ${name} tuvo ${countOf(1, ...units[occasion], genders[occasion])}, con ${shown}${inCounts(counted)}${compared(args)}.`
      : `En ${period}, la mediana de ${name} fue ${shown} ${occasions(args)}${compared(args)}.`;
  },
  baseline: (args) =>
    `En ${periodWords(args)} se midió la línea base: ${figure(args.value, args.unit)} ${occasions(args)}.`,
  notMeasured: (period, isOver) => `Esta meta no se midió en ${periodWords({ period, isOver })}.`,
  latest: ({ value, unit, on, occasion, counted }) =>
    `${genders[occasion] === "f" ? "La última" : "El último"} ${units[occasion][0]}, el ${date(on, "full")}, fue de ${figure(value, unit)}${inCounts(counted)}.`,
  met: (on) => (on === null ? "La meta está cumplida." : `La meta se cumplió el ${date(on, "full")}.`),
  reached: () => "El criterio está alcanzado. El equipo todavía no lo ha confirmado.",
  lost: () => "El criterio se alcanzó antes y ahora no se cumple.",
  pastDue: (on) => `La meta era para el ${date(on, "full")} y no se ha alcanzado.`,
  pace: (verdict, args) => verdicts[verdict](toTarget(args)),
  rate,
  noDueDate: () => "No hay una fecha fijada.",
  noCriterion: () => "La meta todavía no tiene criterio.",
  plainLevel: (args) => {
    const { name, n, value, unit, counted, isTotal, baseline, before } = args;
    const period = periodWords(args);
    const shown = figure(value, unit);
    const now = isTotal
      ? `Al final de ${period}, ${name} sumó ${shown}.`
      : n === 1
        ? `En ${period}, esta meta se midió una vez: ${shown}${inCounts(counted)}.`
        : `En ${period}, esta meta se midió ${countOf(n, "vez", "veces", "f")}. El resultado habitual de ${name} fue ${shown}.`;
    return [
      now,
      before === null ? "" : `En ${periodName(before.name)} fue ${figure(before.value, unit)}.`,
      baseline === null ? "" : `Al principio fue ${figure(baseline, unit)}.`,
    ]
      .filter(Boolean)
      .join(" ");
  },
  plainBaseline: (args) =>
    `En ${periodWords(args)}, el equipo midió desde dónde parte ${args.name}: ${figure(args.value, args.unit)}.`,
  plainLatest: ({ value, unit, on, counted }) =>
    `La última vez, el ${date(on, "full")}, fue ${figure(value, unit)}${inCounts(counted)}.`,
  plainPace: (verdict, name, dueOn) =>
    ({
      enough: `A este ritmo, ${name} alcanzará esta meta antes del ${date(dueOn, "full")}.`,
      "not-enough": `A este ritmo, ${name} no alcanzará esta meta antes del ${date(dueOn, "full")}.`,
      unclear: `Todavía no está claro si ${name} alcanzará esta meta antes del ${date(dueOn, "full")}.`,
      "too-early": `Todavía es pronto para saber si ${name} alcanzará esta meta antes del ${date(dueOn, "full")}.`,
    })[verdict],
};
