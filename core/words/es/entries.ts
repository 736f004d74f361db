import type { CreditedArgs, EntryWords, ShareArgs } from "../en/entries.ts";
import { formatsOf } from "../formats.ts";
import { lengthOfTime, shownValue } from "../amounts.ts";

const formats = formatsOf("es-US");
const noBreak = "\u00a0";

const number = (value: number) => formats.number(shownValue(value, ""));
const whole = (count: number) => formats.number(count);
const outOf = (numerator: number, denominator: number) =>
  `${formats.number(numerator)}${noBreak}de${noBreak}${formats.number(denominator)}`;
const one = (count: number, singular: string, many: string) => (formats.isOne(count) ? singular : many);

function share({ value, numerator, denominator }: ShareArgs, what: string): string {
  if (value === null) return "sin puntuar";
  if (numerator === null || denominator === null) return formats.percent(value);
  return `${outOf(numerator, denominator)} ${what} (${formats.percent(value)})`;
}

/** The levels and misses of the ladders to start from; a school's own keep their names. */
const levelNames = new Map([
  ["independent", "sin ayuda"],
  ["gestural", "ayuda gestual"],
  ["verbal", "ayuda verbal"],
  ["visual", "ayuda visual"],
  ["model", "ayuda con modelo"],
  ["physical", "ayuda física"],
  ["partial physical", "ayuda física parcial"],
  ["full physical", "ayuda física total"],
  ["minimal", "ayuda mínima"],
  ["moderate", "ayuda moderada"],
  ["maximal", "ayuda máxima"],
  ["no prompt", "sin indicaciones"],
  ["1 prompt", "1 indicación"],
  ["2 prompts", "2 indicaciones"],
  ["3 or more prompts", "3 o más indicaciones"],
  ["no response", "sin respuesta"],
  ["refused", "se negó"],
]);
const levelName = (level: string) => levelNames.get(level) ?? level;

function creditedHelp({ level, isFirst }: CreditedArgs): string {
  const name = levelNames.get(level);
  if (isFirst) return name ?? level;
  return name ? `con ${name} o menos` : `con “${level}” o menos ayuda`;
}

const rates: Record<string, string> = { "per minute": "por minuto", "per hour": "por hora" };
const durations = { total: "en total", mean: "de promedio por episodio", longest: "el más largo" } as const;
const latencies = { median: "mediana", mean: "media" } as const;

/** What fluency is counted in, with its gender. */
const unitNames = new Map([
  ["words", { many: "palabras", correct: "correctas" }],
  ["letters", { many: "letras", correct: "correctas" }],
  ["sounds", { many: "sonidos", correct: "correctos" }],
  ["digits", { many: "dígitos", correct: "correctos" }],
]);

const withoutResponse = (count: number) => (count > 0 ? `, ${whole(count)} sin respuesta` : "");

/** What a report says of one entry; Spanish, as families of a school in the United States read it. */
export const entriesEs: EntryWords = {
  trials: (found) => share(found, "correctas"),
  checklist: (found) => share(found, "dominados"),
  promptLevels: (found, credited, seen) =>
    `${share(found, creditedHelp(credited))}: ${seen.map(({ level, count }) => `${whole(count)} ${levelName(level)}`).join(", ")}`,
  skills: (found, credited) => share(found, `destrezas ${creditedHelp(credited)}`),
  skillsOpen: (marked, all) => `sin terminar, ${outOf(marked, all)} destrezas marcadas`,
  steps: (found, credited, firstOpen) =>
    `${share(found, `pasos ${creditedHelp(credited)}`)}${
      firstOpen ? `; el primero que no fue así: ${whole(firstOpen.place)}, ${firstOpen.name}` : ""
    }`,
  stepsOpen: (marked, all) => `sin terminar, ${outOf(marked, all)} pasos marcados`,
  count: ({ count, counted, observedSeconds, rate }) => {
    const total = `${formats.number(count)} ${counted ?? one(count, "vez", "veces")}${
      observedSeconds === undefined ? "" : ` en ${lengthOfTime(observedSeconds)}`
    }`;
    return rate ? `${number(rate.value)} ${rates[rate.unit] ?? rate.unit} (${total})` : total;
  },
  intervals: (found, intervalSeconds, missed) =>
    `${share(found, `intervalos de ${lengthOfTime(intervalSeconds)}`)}${
      missed > 0 ? `, ${whole(missed)} sin observar` : ""
    }`,
  duration: ({ value, report, bouts, observedSeconds }) => {
    const seen = `${bouts === 0 ? "ningún episodio" : `${whole(bouts)} ${one(bouts, "episodio", "episodios")}`}${
      observedSeconds === undefined ? "" : ` en ${lengthOfTime(observedSeconds)} de observación`
    }`;
    if (value === null) return seen;
    return report === "share"
      ? `${formats.percent(value)} del tiempo (${seen})`
      : `${lengthOfTime(value)} ${durations[report]} (${seen})`;
  },
  latencyWithin: (found, withinSeconds, noResponse) =>
    `${share(found, `en menos de ${lengthOfTime(withinSeconds)}`)}${withoutResponse(noResponse)}`,
  latency: (value, report, signals, noResponse) =>
    `${value === null ? `sin ${latencies[report]}` : `${lengthOfTime(value)} de ${latencies[report]}`} en ${whole(signals)} ${one(signals, "señal", "señales")}${withoutResponse(noResponse)}`,
  fluency: ({ perMinute, accuracy, counted, attempted, seconds, errors }) => {
    const name = unitNames.get(counted) ?? { many: counted, correct: "correctas" };
    return `${number(perMinute)} ${name.many} ${name.correct} por minuto, ${formats.percent(accuracy)} de precisión (${whole(attempted)} ${name.many} en ${lengthOfTime(seconds)}, ${whole(errors)} ${one(errors, "error", "errores")})`;
  },
  outcome: (label, credit) => `${label}: vale ${formats.percent(credit)}`,
  otherOutcome: (note) => `otro resultado, sin crédito: ${note}`,
  rubric: (found, rater) => `${share(found, "puntos")}${rater ? `, calificado por ${rater}` : ""}`,
  runningTotal: (amount, unit) =>
    `${number(amount)} ${unit === "minutes" ? one(amount, "minuto", "minutos") : unit}`,
  soFar: (on, period, total, target) => {
    const span =
      period === "month"
        ? `en ${formats.date(on, "wholeMonth")} hasta ahora`
        : period === "week"
          ? "esa semana hasta ahora"
          : "hasta ahora";
    return `${span} ${outOf(total, target)}`;
  },
  support: (level) => `apoyo: ${levelName(level)}`,
  interrupted: () => "con interrupción",
  notMeasured: (reason) =>
    ({ refused: "sin medir, se negó", interrupted: "sin medir, por interrupción" })[reason],
};
