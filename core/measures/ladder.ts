import { type CreditedArgs, creditedHelp } from "../words/en/credited.ts";
export interface Ladder {
  levels: string[];
  misses: string[];
  credited: string;
}

/** Is this mark at a level from the first through the credited one? */
export function isCredited({ levels, credited }: Ladder, mark: string | null | undefined): boolean {
  if (mark === null || mark === undefined) return false;
  const at = levels.indexOf(mark);
  return at !== -1 && at <= levels.indexOf(credited);
}

/** Is this mark a level or a miss of the ladder? */
export function isMark({ levels, misses }: Ladder, mark: string): boolean {
  return levels.includes(mark) || misses.includes(mark);
}

/** "independent", "with a verbal prompt or less" */
export const creditedWords = (ladder: Ladder): string => creditedHelp(creditedOf(ladder));

/** The highest level that is credited, for the words of a language. */
export const creditedOf = ({ levels, credited }: Ladder): CreditedArgs => ({
  level: credited,
  isFirst: levels[0] === credited,
});

/** The marks that a measure with a ladder offers: its levels from least to most help, then its misses. */
export function ladderMarks({ levels, misses }: { levels: string[]; misses: string[] }): string[] {
  return [...levels, ...misses];
}
