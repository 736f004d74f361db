import type { EntryWords, ShareArgs } from "../en/entries.ts";
import { lengthOfTime } from "../amounts.ts";
import { spanishLevels } from "./levels.ts";
import { spanish } from "./spanish.ts";

const { whole, decimal, percent, outOf, oneOr } = spanish;
const { levelName, creditedHelp } = spanishLevels;

function share({ value, numerator, denominator }: ShareArgs, what: string): string {
  if (value === null) return "sin puntuar";
  if (numerator === null || denominator === null) return percent(value);
  return `${outOf(numerator, denominator)} ${what} (${percent(value)})`;
}

const durations = { total: "en total", mean: "de promedio por episodio", longest: "el más largo" } as const;
const latencies = { median: "mediana", mean: "media" } as const;

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
    const total = `${whole(count)} ${counted ?? oneOr(count, "vez", "veces")}${
      observedSeconds === undefined ? "" : ` en ${lengthOfTime(observedSeconds)}`
    }`;
    return rate ? `${spanish.figure(rate.value, rate.unit)} (${total})` : total;
  },
  intervals: (found, intervalSeconds, missed) =>
    `${share(found, `intervalos de ${lengthOfTime(intervalSeconds)}`)}${
      missed > 0 ? `, ${whole(missed)} sin observar` : ""
    }`,
  duration: ({ value, report, bouts, observedSeconds }) => {
    const seen = `${bouts === 0 ? "ningún episodio" : `${whole(bouts)} ${oneOr(bouts, "episodio", "episodios")}`}${
      observedSeconds === undefined ? "" : ` en ${lengthOfTime(observedSeconds)} de observación`
    }`;
    if (value === null) return seen;
    return report === "share"
      ? `${percent(value)} del tiempo (${seen})`
      : `${lengthOfTime(value)} ${durations[report]} (${seen})`;
  },
  latencyWithin: (found, withinSeconds, noResponse) =>
    `${share(found, `en menos de ${lengthOfTime(withinSeconds)}`)}${withoutResponse(noResponse)}`,
  latency: (value, report, signals, noResponse) =>
    `${value === null ? `sin ${latencies[report]}` : `${lengthOfTime(value)} de ${latencies[report]}`} en ${whole(signals)} ${oneOr(signals, "señal", "señales")}${withoutResponse(noResponse)}`,
  fluency: ({ perMinute, accuracy, counted, attempted, seconds, errors }) => {
    const name = spanish.fluencyUnit(counted);
    return `${decimal(perMinute)} ${name.many} ${name.correct} por minuto, ${percent(accuracy)} de precisión (${whole(attempted)} ${name.many} en ${lengthOfTime(seconds)}, ${whole(errors)} ${oneOr(errors, "error", "errores")})`;
  },
  outcome: (label, credit) => `${label}: vale ${percent(credit)}`,
  otherOutcome: (note) => `otro resultado, sin crédito${note ? `: ${note}` : ""}`,
  rubric: (found, rater) => `${share(found, "puntos")}${rater ? `, calificado por ${rater}` : ""}`,
  runningTotal: (amount, unit) => `${decimal(amount)} ${spanish.unit(amount, unit)}`,
  soFar: (on, period, total, target) => {
    const span =
      period === "month"
        ? `en ${spanish.date(on, "wholeMonth")} hasta ahora`
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
