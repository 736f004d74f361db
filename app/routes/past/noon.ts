/** The time of observations of a day whose hour nobody wrote down. */
export const noon = "12:00";
