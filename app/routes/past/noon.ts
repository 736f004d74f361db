/** The time given to observations of which only the day is known. */
export const noon = "12:00";
