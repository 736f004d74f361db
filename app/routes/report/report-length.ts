/** So many lines of the log come with the page: what is read first is above it. */
export const firstLines = 120;
/** So many are read at a time after them. */
export const laterLines = 500;
