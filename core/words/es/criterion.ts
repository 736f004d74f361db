import type { CriterionArgs, CriterionWords, JoinedArgs, ThresholdArgs } from "../en/criterion.ts";
import { spanishLevels } from "./levels.ts";
import { spanishOccasions } from "./occasions.ts";
import { spanish } from "./spanish.ts";

const { whole, figure, countOf, countWord, oneOr } = spanish;

/** Figures that can be joined to a criterion; others keep the name that the measure gives them. */
const joinedNames: Record<string, string> = {
  accuracy: "de precisión",
  errorsPerMinute: "de errores",
  bouts: "con episodios",
  noResponse: "sin respuesta",
  points: "en total",
  lowest: "en el criterio más bajo",
};

function threshold({ value, direction, unit }: ThresholdArgs): string {
  if (direction === "decrease") return `como máximo ${figure(value, unit)}`;
  return unit === "percent" ? figure(value, unit) : `al menos ${figure(value, unit)}`;
}

const shareOfLevel = "cumulative.";

function joined(one: JoinedArgs): string {
  const level = one.figure.startsWith(shareOfLevel) ? one.figure.slice(shareOfLevel.length) : null;
  const name =
    level === null
      ? (joinedNames[one.figure] ?? one.label)
      : spanishLevels.creditedHelp({ level, isFirst: level === "independent" || level === "no prompt" });
  return `${threshold(one)} ${name}`;
}

function occasions({ window: { k, n }, windowUnit }: CriterionArgs): string {
  const { one, many, gender } = spanishOccasions[windowUnit];
  const row = gender === "f" ? "seguidas" : "seguidos";
  if (n === 1) return `en ${countWord(1, gender)} ${one}`;
  return k === n
    ? `en ${countWord(k, gender)} ${k === 1 ? one : `${many} ${row}`}`
    : `en ${whole(k)} de ${whole(n)} ${many}`;
}

/** A criterion in phrases; Spanish. */
export const criterionEs: CriterionWords = {
  joined,
  criterion: (asked) => {
    const { settings, people, minimumOpportunities: least } = asked;
    return [
      `${threshold(asked)}${asked.joined.map((one) => ` y ${joined(one)}`).join("")} ${occasions(asked)}`,
      settings ? `en ${countOf(settings, "lugar", "lugares", "m")}` : "",
      people ? `con ${countOf(people, "persona", "personas", "f")}` : "",
      least ? `con al menos ${whole(least)} ${oneOr(least, "oportunidad", "oportunidades")} cada vez` : "",
    ]
      .filter(Boolean)
      .join(", ");
  },
  countsNeeded: ({ percent, direction, opportunities, needed, isExact }) => {
    const of = `el ${spanish.percent(percent)} de ${whole(opportunities)}`;
    const takes = isExact ? "son" : direction === "increase" ? "pide" : "admite como máximo";
    return `${of} ${takes} ${whole(needed)} de ${whole(opportunities)}`;
  },
};
