import { mean } from "simple-statistics";

/** One person's rating of a student's work by a rubric, or of a category by its levels. */
export interface Rating {
  rater: { id: string; name: string };
  /** Rated by the student about their own work. */
  own: boolean;
  /** The school's own day `YYYY-MM-DD`, and `HH:MM` or nothing. */
  on: string;
  at: string;
  /** What is averaged: a level's place, or a percentage. */
  value: number;
  /** What is compared, by name: the level of each criterion, or one level. */
  units: Readonly<Record<string, number>>;
  /** The rating as it is read. */
  words: string;
}

/** One rater's column. The student's own comes first. */
export interface RaterColumn {
  id: string;
  name: string;
  own: boolean;
  /** Days rated. */
  n: number;
  /** Mean of those days. */
  mean: number;
}

/** How often adults who rated the same day gave the same level. */
export interface RaterAgreement {
  /** Days that at least two adults rated. */
  days: number;
  /** Pairs of levels compared, how many were the same, and how many at most one level apart. */
  compared: number;
  same: number;
  near: number;
}

export interface ComparedRaters {
  columns: RaterColumn[];
  /** Days that at least two of them rated, the newest first; null where a rater gave none that day. In the order of the columns. */
  days: { on: string; words: (string | null)[] }[];
  agreement: RaterAgreement | null;
  /** Mean of the adults: each day's mean, then the mean of the days. Null where no adult rated. */
  mean: number | null;
}

const idOf = ({ rater, own }: Rating): string => (own ? "own" : rater.id);

/** The last rating of each day by each rater, by day and rater. */
function byDay(ratings: readonly Rating[]): Map<string, Map<string, Rating>> {
  const days = new Map<string, Map<string, Rating>>();
  const inOrder = [...ratings].sort((a, b) => (a.on + a.at < b.on + b.at ? -1 : 1));
  for (const rating of inOrder)
    days.set(rating.on, (days.get(rating.on) ?? new Map<string, Rating>()).set(idOf(rating), rating));
  return days;
}

function agreementOf(days: Iterable<readonly Rating[]>): RaterAgreement | null {
  const agreement = { days: 0, compared: 0, same: 0, near: 0 };
  for (const ratings of days) {
    if (ratings.length < 2) continue;
    agreement.days += 1;
    ratings.forEach((one, at) => {
      for (const other of ratings.slice(at + 1))
        for (const [unit, level] of Object.entries(one.units)) {
          const apart = Math.abs(level - (other.units[unit] ?? Number.NaN));
          if (Number.isNaN(apart)) continue;
          agreement.compared += 1;
          if (apart === 0) agreement.same += 1;
          if (apart <= 1) agreement.near += 1;
        }
    });
  }
  return agreement.compared === 0 ? null : agreement;
}

/**
 * Compares what several people gave the same rubric or category: a column for each, the days that two or more rated, how far the adults
 * agree, and their mean. Of several ratings of one person on one day the last is taken. The student's own rating stands beside the
 * adults' and is neither in their agreement nor in their mean.
 *
 * Agreement is the share of compared pairs that are equal, unit by unit (point-by-point percent agreement: *common practice* in
 * single-case research; Kazdin, *Single-Case Research Designs*, from memory), and the share at most one level apart, as rubric scorers
 * report it (*common practice*).
 *
 * @returns null where fewer than two raters are among them
 */
export function compareRaters(ratings: readonly Rating[]): ComparedRaters | null {
  const days = byDay(ratings);
  const columns = new Map<string, RaterColumn & { values: number[] }>();
  for (const ofDay of days.values())
    for (const [id, { rater, own, value }] of ofDay) {
      const column = columns.get(id) ?? { id, name: rater.name, own, n: 0, mean: 0, values: [] };
      column.values.push(value);
      columns.set(id, column);
    }
  if (columns.size < 2) return null;
  const ordered = [...columns.values()].sort(
    (a, b) =>
      Number(b.own) - Number(a.own) || b.values.length - a.values.length || (a.name < b.name ? -1 : 1),
  );
  const adults = [...days.values()].map((ofDay) => [...ofDay.values()].filter(({ own }) => !own));
  const dayMeans = adults.flatMap((ofDay) =>
    ofDay.length === 0 ? [] : [mean(ofDay.map(({ value }) => value))],
  );
  return {
    columns: ordered.map(({ values, ...column }) => ({ ...column, n: values.length, mean: mean(values) })),
    days: [...days]
      .filter(([, ofDay]) => ofDay.size > 1)
      .sort(([a], [b]) => (a < b ? 1 : -1))
      .map(([on, ofDay]) => ({ on, words: ordered.map(({ id }) => ofDay.get(id)?.words ?? null) })),
    agreement: agreementOf(adults),
    mean: dayMeans.length === 0 ? null : mean(dayMeans),
  };
}
