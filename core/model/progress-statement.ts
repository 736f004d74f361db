/** What a person writes of a goal for a reporting period, beside what is drafted from the numbers. */
export interface StatementContent {
  /** Empty where nothing is written. */
  words: string;
  /** The same in the language of the family; empty where it is not translated. */
  translation: string;
  /** Do the sentences drafted from the numbers come before the words? */
  withNumbers: boolean;
  ratingId: string | null;
}

/** One of the ratings on a school's progress reports. */
export interface StatementRating {
  ratingId: string;
  name: string;
  /** Its name in Spanish; empty where there is none. */
  spanish: string;
}
