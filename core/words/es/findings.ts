import type {
  CountedArgs,
  FindingArgs,
  FindingMore,
  FindingWords,
  PairArgs,
  RateArgs,
  SlotArgs,
} from "../en/findings.ts";
import { findingsEn, ratioName } from "../en/findings.ts";
import { fixedDecimals } from "../fixed-decimals.ts";
import { spanish } from "./spanish.ts";

const { whole, oneOr, outOf, percent, weekday: weekdayName, capital } = spanish;
const decimals = (value: number, of: number) => fixedDecimals(value, of, "es-US");

const ratioNames = [
  [1 / 4, "una cuarta parte de veces"],
  [1 / 3, "un tercio de veces"],
  [1 / 2, "la mitad de veces"],
  [2 / 3, "dos tercios de veces"],
  [3 / 4, "tres cuartos de veces"],
  [2, "el doble de veces"],
  [3, "el triple de veces"],
  [4, "cuatro veces más a menudo"],
  [5, "cinco veces más a menudo"],
] as const;
const mostNamed = 5.5;

function times(ratio: number): string {
  if (ratio > mostNamed) return `unas ${whole(Math.round(ratio))} veces más a menudo`;
  const name = ratioName(ratio, ratioNames);
  if (name) return `aproximadamente ${name}`;
  const change = Math.round(100 * Math.abs(ratio - 1));
  return change === 0 ? "con la misma frecuencia" : `un ${percent(change)} ${ratio < 1 ? "menos" : "más"}`;
}

const countedNames: Record<CountedArgs, { one: string; many: string }> = {
  incidents: { one: "incidente", many: "incidentes" },
  episodes: { one: "episodio", many: "episodios" },
};
const counted = (what: CountedArgs, n: number) => oneOr(n, countedNames[what].one, countedNames[what].many);

/** "3 de 4 incidentes", "los 4 incidentes" */
function some(n: number, of: number, what: CountedArgs): string {
  if (n !== of) return `${outOf(n, of)} ${counted(what, of)}`;
  return of === 1 ? `el único ${countedNames[what].one}` : `los ${whole(of)} ${countedNames[what].many}`;
}

const did = (n: number, one: string, many: string) => (n === 1 || n === 0 ? one : many);

/** The hours that stand in where a school has no periods. */
const hourPattern = /^(\d+) to (\d+) o’clock$/;
const during = ({ name, startsAt, endsAt }: SlotArgs) => {
  const span = `de ${spanish.time(startsAt)} a ${spanish.time(endsAt)}`;
  return hourPattern.test(name) ? span : `en ${name} (${span})`;
};

function pair({ kind, a, b, both, of }: PairArgs, what: CountedArgs): string {
  const many = some(both, of, what);
  const had = did(both, "tuvo", "tuvieron");
  switch (kind) {
    case "antecedent-behavior":
      return `${many} con ${b} ${had} el antecedente “${a}”`;
    case "setting-behavior":
      return `${many} con ${b} ${did(both, "ocurrió", "ocurrieron")} en “${a}”`;
    case "behavior-consequence":
      return `${many} con ${a} ${had} la consecuencia “${b}”`;
    case "antecedent-consequence":
      return `${many} con el antecedente “${a}” ${had} la consecuencia “${b}”`;
  }
}

const days = (n: number) => `${whole(n)} ${oneOr(n, "día observado", "días observados")}`;
const perDay = ({ incidents, days: n, perDay: rate }: RateArgs) =>
  `${whole(incidents)} en ${days(n)}, ${decimals(rate, 2)} por día`;

function found(args: FindingArgs): string {
  switch (args.kind) {
    case "time": {
      const { n, of, weekday, slot, minutes, dayMinutes } = args;
      const day = weekday === null ? "" : `el ${weekdayName(weekday)} `;
      return `${some(n, of, args.counted)} de hora conocida ${did(n, "empezó", "empezaron")} ${day}${during(slot)}, que son ${outOf(minutes, dayMinutes)} minutos del día`;
    }
    case "weekday": {
      const { weekday, days: n, of, otherDays, othersOf } = args;
      return `en ${outOf(n, of)} ${oneOr(of, "día observado", "días observados")} que eran ${weekdayName(weekday)} hubo algún incidente; en los demás días, ${outOf(otherDays, othersOf)}`;
    }
    case "change":
      return `desde ${args.plan} hubo ${perDay(args.after)}; antes, ${perDay(args.before)}`;
    default:
      return `${pair(args, args.counted)}; de los demás, ${outOf(args.others, args.othersOf)}`;
  }
}

function followedWords(followed: FindingMore["followed"]): string {
  const [first, ...more] = followed?.labels ?? [];
  if (!followed || !first) return "";
  const head = `“${first.label}” en ${first.n === followed.of ? "todos" : outOf(first.n, followed.of)}`;
  return `; consecuencia: ${[head, ...more.map(({ label, n }) => `“${label}” en ${whole(n)}`)].join(", ")}`;
}

function whenWords(when: FindingMore["when"]): string {
  if (!when) return "";
  const { n, of, weekdays, slot } = when;
  const on = weekdays.length >= 5 ? "" : `el ${spanish.list(weekdays.map(weekdayName), "or")} `;
  return `; ${n === of ? "todos" : `${whole(n)} de los ${whole(of)}`} ${on}${during(slot)}`;
}

const students = (n: number) => `de ${whole(n)} ${oneOr(n, "estudiante", "estudiantes")}`;

/** Findings and rates among recorded incidents; Spanish. */
export const findingsEs: FindingWords = {
  finding: (args, more) => `${found(args)}${followedWords(more.followed)}${whenWords(more.when)}`,
  tooFew: () => "Muy pocos episodios para juzgar.",
  nothing: () => "Nada ocurrió junto con claridad.",
  schoolPair: (args, n) => `${pair(args, "incidents")}; ${students(n)}`,
  schoolTime: ({ n, of, weekday, slot, share, students: many }) =>
    `${some(n, of, "incidents")} de hora conocida ${did(n, "empezó", "empezaron")} el ${weekdayName(weekday)} ${during(slot)}, ${decimals(share, 1)} veces su parte de la semana escolar; ${students(many)}`,
  rate: ({ perDay: rate, low, high, widened, perWeek }) =>
    `${decimals(rate, 2)} por día (intervalo del 95%: de ${decimals(low, 2)} a ${decimals(high, 2)}${widened ? ", ampliado porque los días malos se agrupan" : ""}), ${decimals(perWeek, 1)} en cinco días`,
  notCompared: () =>
    "Uno de los dos periodos no tiene ningún día de clase observado, así que no se pueden comparar.",
  change: (before, after, ratio, p) => {
    const how =
      ratio !== null
        ? times(ratio)
        : before.incidents === 0 && after.incidents === 0
          ? "ninguno en ninguno de los dos"
          : "ninguno antes";
    const tested =
      p === null
        ? "menos de cuatro semanas escolares en un lado: sin prueba"
        : `${findingsEn.pValue(p)}${p > 0.05 ? ", puede ser azar" : ""}`;
    return `Antes: ${perDay(before)}. Desde entonces: ${whole(after.incidents)} en ${whole(after.days)}, ${decimals(after.perDay, 2)} por día. ${capital(how)} (${tested}).`;
  },
  times,
  // As reports of statistics write it in either language.
  pValue: findingsEn.pValue,
};
