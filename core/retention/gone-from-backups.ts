import { yearsLater } from "../dates/a-year-later.ts";

/**
 * The day by which no backup holds what was erased any more, where a backup is made every night. Of backups the last of each of 14 days, 8
 * weeks and 12 months is stored: what was erased in March is at the latest in the last one of February or March, and the last one of March
 * goes with the first of the next March.
 *
 * @param erasedOn `YYYY-MM-DD`
 */
export const goneFromBackupsBy = (erasedOn: string): string => yearsLater(`${erasedOn.slice(0, 7)}-02`, 1);
