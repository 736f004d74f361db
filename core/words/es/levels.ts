import type { CreditedArgs } from "../en/credited.ts";

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

/** Levels of help in Spanish: the name of one, and the highest that is credited ("con ayuda gestual o menos"). */
export const spanishLevels = { levelName, creditedHelp };
