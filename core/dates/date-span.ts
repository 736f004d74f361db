/** A named stretch of days, both ends included: `YYYY-MM-DD`. */
export interface DateSpan {
  name: string;
  fromOn: string;
  toOn: string;
}

/** The first of these spans that holds a date; null where none does. */
export function spanOn<Span extends DateSpan>(spans: readonly Span[], date: string): Span | null {
  return spans.find(({ fromOn, toOn }) => fromOn <= date && date <= toOn) ?? null;
}
