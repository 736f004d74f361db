/** How many lines of a report are read at a time. */
export const reportLength = 500;
