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

/** "independent", "verbal or less" */
export function creditedWords({ levels, credited }: Ladder): string {
  return levels[0] === credited ? credited : `${credited} or less help`;
}

/** The marks that a measure with a ladder offers: its levels from least to most help, then its misses. */
export function ladderMarks({ levels, misses }: { levels: string[]; misses: string[] }): string[] {
  return [...levels, ...misses];
}
