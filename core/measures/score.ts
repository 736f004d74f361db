/** What a measure makes of one entry. The same shape is stored with the entry and printed by `figures score`. */
export interface Score {
  /** The figure itself, in `unit`; null where the method does not define one for this entry. */
  value: number | null;
  unit: string;
  /** The counts behind a percentage; null where the value is not a ratio of counts. */
  numerator: number | null;
  denominator: number | null;
  /** 95 % Wilson interval in percent, `[low, high]`; only where the opportunities are a sample. */
  interval95: [low: number, high: number] | null;
  detail: Record<string, unknown>;
}

/** One thing wrong with an entry, said so that the person who typed it knows what to change. */
export interface Problem {
  field: string;
  message: string;
}

export type Scored = { ok: true; score: Score } | { ok: false; problems: Problem[] };
